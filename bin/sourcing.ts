import { readFileSync, writeFileSync } from 'node:fs'
import loadHighs from 'highs'
import { highsSolver } from '../core/sourcing/highs-milp.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { solveSourcing } from '../core/sourcing/solve.ts'

const USAGE = 'usage: npm run -s sourcing -- PROBLEM.json [--time-limit SECONDS] [--out PLAN.json]'

/** Ends with exit code 2 and one readable line: the input cannot be used. */
function refuse(message: string): never {
  console.error(`sourcing: ${message}`)
  process.exit(2)
}

const args = process.argv.slice(2)
let file: string | undefined
let out: string | undefined
let timeLimit = 60
while (args.length > 0) {
  const arg = args.shift() ?? ''
  if (arg === '--time-limit') {
    timeLimit = Number(args.shift())
    if (!(timeLimit > 0)) refuse(`--time-limit takes seconds above 0; ${USAGE}`)
  } else if (arg === '--out') {
    out = args.shift()
    if (out === undefined) refuse(`--out takes a file name; ${USAGE}`)
  } else if (arg.startsWith('--') || file !== undefined) refuse(`unknown argument "${arg}"; ${USAGE}`)
  else file = arg
}
if (file === undefined) refuse(USAGE)

let text: string
try {
  text = readFileSync(file, 'utf8')
} catch {
  refuse(`cannot read "${file}"`)
}
let value: unknown
try {
  value = JSON.parse(text)
} catch (error) {
  refuse(`"${file}" is not JSON: ${error instanceof Error ? error.message : 'unreadable'}`)
}
const problem = parseSourcingProblem(value)
if (!problem.ok) refuse(`"${file}" is not a sourcing problem: ${problem.error}`)

const plan = solveSourcing(problem.value, {
  timeLimit,
  now: () => performance.now() / 1000,
  milp: highsSolver(await loadHighs()),
})
const json = JSON.stringify(plan, null, 1)
if (out === undefined) console.log(json)
else {
  try {
    writeFileSync(out, `${json}\n`)
  } catch {
    refuse(`cannot write "${out}"`)
  }
}
// A problem with no plan is an answer (the plan says why); only a plan in hand ends with 0.
process.exit(plan.total === null ? 1 : 0)
