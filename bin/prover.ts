import { parentPort, workerData } from 'node:worker_threads'
import loadHighs from 'highs'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { proveApart, type ProofTask } from '../core/sourcing/prove-apart.ts'

/** The thread that bounds a problem while another looks for plans (`solveInTwo`). */
const { task, timeLimit } = workerData as { readonly task: ProofTask; readonly timeLimit: number }
const now = () => performance.now() / 1000
const started = now()
const milp = highsSolver(await loadHighs())
parentPort?.postMessage(proveApart(task, { timeLimit: timeLimit - (now() - started), now, milp }))
