import { writeFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { choose, headline } from './demo.ts'
import { build, job, line, module } from './hostile-jobs.ts'
import { test } from './profile.ts'

const WIDTHS = [1, 2, 3, 4, 6]
const LENGTHS = [6, 8, 10, 12, 16]
const COLOURS = 'soot chalk gentian ember meadow tarn peat scree'.split(' ')
/** 200 different pieces, of parts whose names say what they are. */
const ITEMS = Array.from({ length: 200 }, (_, i) => {
  const part = `p-plate-${WIDTHS[i % 5] ?? 1}x${LENGTHS[Math.floor(i / 5) % 5] ?? 6}`
  return `${part}|c-${COLOURS[Math.floor(i / 25)] ?? ''}`
})

/** A build that is short of 200 different pieces, and 30 shops with most of them each: 5,333 offers, which is large. */
function bigMarket(): string {
  let state = 20
  const upTo = (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 2 ** 32) * n)
  }
  const shops = Array.from({ length: 30 }, (_, s) => ({
    ...{ id: `a-${s}`, name: `Yard ${s}`, country: 'AT', kind: 'shop', currency: 'EUR', minOrder: 0, service: null },
    bands: [
      { maxMass: 100_000, fee: 250 + upTo(200) },
      { maxMass: 5_000_000, fee: 600 + upTo(300) },
    ],
    ...{ handling: upTo(80), lineFee: s % 8 === 0 ? 5 : 0, leadDays: 1 + upTo(9), reliability: 0.95 },
  }))
  const offers = shops.flatMap(({ id }, s) =>
    ITEMS.flatMap((item, i) =>
      (i + s) % 9 === 0
        ? []
        : [
            {
              ...{ id: `o-${s}-${i}`, shop: id, item, price: 8 + (i % 20) + upTo(25), stock: 3 + upTo(30) },
              ...{ pack: 1, condition: 'new', source: 'file' },
            },
          ],
    ),
  )
  const lines = ITEMS.map((item, i) => line(`${i}`, { item, qty: 1 + upTo(6) }))
  return job({ builds: [build()], designs: [{ id: 'b-1', modules: [module('1', { lines })] }], shops, offers })
}

const solvers = (page: Page) => page.workers().filter((worker) => worker.url().includes('sourcing.worker')).length

test('a large purchase is bounded by a second worker while the first looks for plans; both stop when told to', async ({
  page,
}) => {
  const file = test.info().outputPath('market.json')
  writeFileSync(file, bigMarket())
  await page.goto('/data')
  const atOnce = await page.evaluate(() => navigator.hardwareConcurrency)
  test.skip(atOnce < 2, 'a machine that does one thing at a time has one solver')
  await page.getByLabel('Job file').setInputFiles(file)
  await page.getByRole('button', { name: 'Replace everything' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.goto('/build/b-1/buy')
  await expect(page.getByText(/usable offers from 30 shops/)).toBeVisible()
  // Time enough for a slow machine.
  await choose(page, 'Time limit', 'at most 120 s')
  await page.getByRole('button', { name: 'Find the cheapest orders' }).click()
  await expect.poll(() => solvers(page)).toBe(2)
  const progress = page.getByRole('region', { name: 'Progress' })
  const leastShown = async () =>
    Number(/Proven least ([\d.]+)/.exec((await progress.textContent()) ?? '')?.[1]?.replace(/\D/g, '') ?? NaN)
  const before = await leastShown()
  // From here on it grows by what the second worker proves alone.
  await expect.poll(leastShown).toBeGreaterThan(before)
  const proven = await leastShown()
  await page.getByRole('button', { name: 'Stop, keep the best' }).click()
  await expect(page.getByText('What it is made of')).toBeVisible()
  await expect(headline(page)).toContainText(/EUR in \d+ orders/)
  await expect.poll(() => solvers(page)).toBe(0)
  // What was proven by then is kept with the plan.
  const [, total = '', above = ''] =
    /([\d\s.]+) EUR in .* at most ([\d.]+)% above the least possible/s.exec(
      (await headline(page).textContent()) ?? '',
    ) ?? []
  const minor = Number(total.replace(/\D/g, ''))
  expect(Number(above)).toBeLessThan(((minor - proven) / minor) * 100 + 0.01)
})
