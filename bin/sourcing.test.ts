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
const good = JSON.parse(readFileSync(CASE, 'utf8')) as { lines: object[]; shops: object[] }
const changed = (name: string, change: (problem: typeof good) => object) => file(name, JSON.stringify(change(good)))

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
  [[CASE, '--time-limit', 'Infinity'], /seconds above 0, at most 86400/],
  [[CASE, '--time-limit', '0'], /seconds above 0/],
  [[CASE, '--fast'], /unknown argument "--fast"/],
  [
    [changed('huge.json', (p) => ({ ...p, lines: p.lines.map((l) => ({ ...l, qty: 1e20 })) }))],
    /not a sourcing problem: lines/,
  ],
  [
    [changed('half.json', (p) => ({ ...p, lines: p.lines.map((l) => ({ ...l, qty: 0.5 })) }))],
    /not a sourcing problem: lines/,
  ],
])('bad input %j ends with 2 and one readable line', (args, message) => {
  const { status, stderr, stdout } = run(...args)
  expect(status).toBe(2)
  expect(stderr.split('\n').find((l) => l.startsWith('sourcing:'))).toMatch(message)
  expect(stdout).toBe('')
})

test('a file that begins with a byte order mark is read like any other', () => {
  const { status, stdout } = run(file('marked.json', `\uFEFF${readFileSync(CASE, 'utf8')}`))
  expect([status, (JSON.parse(stdout) as { total: number }).total]).toEqual([0, 1290])
})

test('a need that nobody offers ends with 1, and the plan names it', () => {
  const { status, stdout } = run(changed('nobody.json', (p) => ({ ...p, offers: [], sets: [] })))
  expect(status).toBe(1)
  expect(JSON.parse(stdout)).toMatchObject({ status: 'infeasible', total: null })
})

// An exact cover is needed: six items, at most two shops, and the cheap shops overlap.
test('a time limit in which nothing can be found ends with 3 and one line', () => {
  const items = Array.from({ length: 24 }, (_, i) => `e${i}`)
  const stocks: Record<string, readonly string[]> = {
    a: items.filter((_, i) => i % 4 < 2),
    b: items.filter((_, i) => i % 4 >= 2),
    ...Object.fromEntries(
      Array.from({ length: 12 }, (_, k) => [`cheap${k}`, items.filter((_, i) => (i * 7 + k * 5) % 24 < 17)]),
    ),
  }
  const shop = good.shops[0] ?? {}
  const cover = changed('cover.json', (p) => ({
    ...p,
    maxShops: 2,
    items: items.map((id) => ({ id, part: `p-${id}`, colour: 'c1', mass: 1000, owned: 0, resale: null })),
    lines: items.map((id) => ({ id: `d-${id}`, qty: 1, accepts: [{ id, uses: [{ item: id, qty: 1 }], penalty: 0 }] })),
    shops: Object.keys(stocks).map((id) => ({ ...shop, id })),
    offers: Object.entries(stocks).flatMap(([id, sold]) =>
      sold.map((item) => ({ id: `${id}-${item}`, shop: id, item, price: id.length > 1 ? 1 : 500, stock: 9, pack: 1 })),
    ),
    sets: [],
  }))
  const { status, stderr } = run(cover, '--time-limit', '0.000001')
  expect([
    status,
    stderr
      .trim()
      .split('\n')
      .filter((l) => l.startsWith('sourcing:')).length,
  ]).toEqual([3, 1])
  expect(run(cover, '--time-limit', '20').status).toBe(0)
})
