import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import * as v from 'valibot'
import { SourcingPlanSchema } from '../core/sourcing/plan.ts'

const folder = mkdtempSync(join(tmpdir(), 'sourcing-'))
const run = (...args: string[]) => spawnSync('npx', ['tsx', 'bin/sourcing.ts', ...args], { encoding: 'utf8' })
const file = (name: string, text: string) => {
  const path = join(folder, name)
  writeFileSync(path, text)
  return path
}
const CASE = 'core/sourcing/cases/tiny-3-donorset.json'

test('a good problem ends with 0 and a plan that fits the published schema', () => {
  const out = join(folder, 'plan.json')
  expect(run(CASE, '--time-limit', '10', '--out', out).status).toBe(0)
  const plan = v.parse(SourcingPlanSchema, JSON.parse(readFileSync(out, 'utf8')))
  expect([plan.status, plan.total]).toEqual(['optimal', 1290])
})

test.each([
  [[], /usage/],
  [['nowhere.json'], /cannot read "nowhere\.json"/],
  [[file('broken.json', '{')], /is not JSON/],
  [[file('other.json', '{"format":"other"}')], /not a sourcing problem: format/],
  [[CASE, '--time-limit', 'soon'], /seconds above 0/],
  [[CASE, '--fast'], /unknown argument "--fast"/],
])('bad input %j ends with 2 and one readable line', (args, message) => {
  const { status, stderr, stdout } = run(...args)
  expect(status).toBe(2)
  expect(stderr.split('\n').find((l) => l.startsWith('sourcing:'))).toMatch(message)
  expect(stdout).toBe('')
})
