import { readFileSync, writeFileSync } from 'node:fs'
import type { Result } from '../core/units/result.ts'

/** A command that reads a problem in an exchange format, solves it and writes the plan. */
export type SolveCommand<P, S> = {
  readonly name: string
  readonly takesTimeLimit: boolean
  readonly parse: (value: unknown) => Result<P, string>
  readonly solve: (problem: P, timeLimit: number) => Promise<S>
  /** Whether the plan is one that can be carried out. */
  readonly isPlan: (plan: S) => boolean
}

/** Runs the command on the process's arguments. Ends with 0 and a plan, 1 and the reason why there is none, 2 and one line. */
export async function runCommand<P, S>(command: SolveCommand<P, S>): Promise<never> {
  const { name } = command
  const usage = `usage: npm run -s ${name} -- PROBLEM.json ${command.takesTimeLimit ? '[--time-limit SECONDS] ' : ''}[--out PLAN.json]`
  const refuse = (message: string): never => {
    console.error(`${name}: ${message}`)
    process.exit(2)
  }
  const args = process.argv.slice(2)
  let file: string | undefined
  let out: string | undefined
  let timeLimit = 60
  while (args.length > 0) {
    const arg = args.shift() ?? ''
    if (arg === '--time-limit' && command.takesTimeLimit) {
      timeLimit = Number(args.shift())
      if (!(timeLimit > 0)) refuse(`--time-limit takes seconds above 0; ${usage}`)
    } else if (arg === '--out') {
      out = args.shift()
      if (out === undefined) refuse(`--out takes a file name; ${usage}`)
    } else if (arg.startsWith('--') || file !== undefined) refuse(`unknown argument "${arg}"; ${usage}`)
    else file = arg
  }
  if (file === undefined) return refuse(usage)

  let text = ''
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
  const problem = command.parse(value)
  if (!problem.ok) return refuse(`"${file}" is not a ${name} problem: ${problem.error}`)

  const plan = await command.solve(problem.value, timeLimit)
  const json = JSON.stringify(plan, null, 1)
  if (out === undefined) console.log(json)
  else
    try {
      writeFileSync(out, `${json}\n`)
    } catch {
      refuse(`cannot write "${out}"`)
    }
  // A problem with no plan is an answer (the plan says why); only a plan in hand ends with 0.
  process.exit(command.isPlan(plan) ? 0 : 1)
}
