import { readFileSync, writeFileSync } from 'node:fs'
import type { Fault, Result } from '../core/units/result.ts'

/** A command that reads a problem in an exchange format, solves it and writes the plan. */
export type SolveCommand<P, S> = {
  readonly name: string
  readonly takesTimeLimit: boolean
  readonly parse: (value: unknown) => Result<P, Fault>
  readonly solve: (problem: P, timeLimit: number) => Promise<S>
  /** Whether a plan was found, or proven that none exists; or neither in the time there was. */
  readonly outcomeOf: (plan: S) => 'plan' | 'none' | 'undecided'
}

const EXIT = { plan: 0, none: 1, undecided: 3 } as const
/** Longest time limit, seconds: a day. */
const MOST_SECONDS = 86_400
const MAX_LINE = 300

/** A message on one line of a readable length. */
const oneLine = (text: string) => {
  const line = text.replace(/\s+/g, ' ').trim()
  return line.length > MAX_LINE ? `${line.slice(0, MAX_LINE)}…` : line
}

/**
 * Runs the command on the process's arguments. Ends with 0 and a plan, 1 and the reason why there is none, 2 and one line
 * about bad input, 3 and one line when neither a plan nor a proof was found.
 */
export async function runCommand<P, S>(command: SolveCommand<P, S>): Promise<never> {
  const { name } = command
  const usage = `usage: npm run -s ${name} -- PROBLEM.json ${command.takesTimeLimit ? '[--time-limit SECONDS] ' : ''}[--out PLAN.json]`
  const refuse = (message: string): never => {
    console.error(`${name}: ${oneLine(message)}`)
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
      if (!(timeLimit > 0 && timeLimit <= MOST_SECONDS))
        refuse(`--time-limit takes seconds above 0, at most ${MOST_SECONDS}; ${usage}`)
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
    value = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    refuse(`"${file}" is not JSON: ${error instanceof Error ? error.message : 'unreadable'}`)
  }
  const problem = command.parse(value)
  if (!problem.ok) return refuse(`"${file}" is not a ${name} problem: ${problem.error.message}`)

  let plan: S
  try {
    plan = await command.solve(problem.value, timeLimit)
  } catch (error) {
    console.error(
      `${name}: ${oneLine(`the solver gave up: ${error instanceof Error ? error.message : String(error)}`)}`,
    )
    process.exit(EXIT.undecided)
  }
  const json = JSON.stringify(plan, null, 1)
  if (out === undefined) console.log(json)
  else
    try {
      writeFileSync(out, `${json}\n`)
    } catch {
      refuse(`cannot write "${out}"`)
    }
  // A problem with no plan is an answer (the plan says why); only a plan in hand ends with 0.
  const outcome = command.outcomeOf(plan)
  if (outcome === 'undecided')
    console.error(`${name}: neither a plan nor a proof that there is none was found in ${timeLimit} seconds`)
  process.exit(EXIT[outcome])
}
