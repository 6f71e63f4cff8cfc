import { expect } from '@playwright/test'
import { BUILD, cellsOf, choose, goWithin, headline, openDemo, told } from './demo.ts'
import { test } from './profile.ts'

const COLOURS = `${BUILD}/colours`

test('the palette counts what is needed and there, and shows it as others see it', async ({ page }) => {
  await openDemo(page, COLOURS)
  await expect(headline(page)).toContainText(/\d+ colours in the design; most is short in Chalk/)
  await expect(page.getByRole('region', { name: 'Look-alikes' })).toContainText('Birch ash and Lichen')
  const red = page
    .getByRole('row', { name: /^Rowanberry/ })
    .locator('span[style*=background]')
    .first()
  const usual = await red.evaluate((e) => getComputedStyle(e).backgroundColor)
  await choose(page, 'Seen by', 'without red cones')
  await expect.poll(() => red.evaluate((e) => getComputedStyle(e).backgroundColor)).not.toBe(usual)

  await page.getByRole('button', { name: 'Part by colour' }).click()
  await page.getByRole('searchbox', { name: 'Find a part' }).fill('wedge plate 3x6')
  const grid = page.getByRole('grid', { name: 'Parts by colour' })
  await expect(grid.getByRole('row', { name: /wedge plate 3x6 right hand/ })).toContainText('4 needed')
  await expect(page.getByText(/^2 parts in \d+ colours$/)).toBeVisible()
})

test('part by colour is sorted, filtered and walked by keyboard; what is short is told as the tally tells it', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/tally`)
  await expect(headline(page)).toContainText('pieces of')
  const short = await told(page, /([\d\u202f]+) pieces of/)
  await goWithin(page, `${COLOURS}?view=grid`)
  const grid = page.getByRole('grid', { name: 'Parts by colour' })
  const parts = () => cellsOf(grid)
  await expect(grid.getByRole('row').nth(1)).toBeVisible()
  // The most needed first; a heading sorts, and again the other way round.
  const needed = (await parts()).map((cells) => Number(cells[1]))
  expect(needed).toEqual([...needed].sort((p, q) => q - p))
  const byName = new Intl.Collator('en', { numeric: true }).compare
  const before = (await parts()).map(([name = '']) => name)
  const heading = grid.getByRole('columnheader', { name: 'Part', exact: true }).getByRole('button')
  await heading.click()
  const names = async () => (await parts()).map(([name = '']) => name)
  await expect.poll(names).not.toEqual(before)
  expect(await names()).toEqual((await names()).sort(byName))

  // All that is short, over all rows: only some of them are in the page at any time.
  await page.getByText('Only what is short').click()
  const found = new Map<string, number>()
  await grid.focus()
  for (let last = ''; ;) {
    for (const cells of await parts()) {
      const text = cells.join(' | ')
      found.set(
        text,
        [...text.matchAll(/(\d+) short/g)].reduce((n, [, pieces]) => n + Number(pieces), 0),
      )
    }
    await page.keyboard.press('PageDown')
    await page.waitForTimeout(100)
    const [now = ''] = (await parts()).at(-1) ?? []
    if (now === last) break
    last = now
  }
  expect(Math.min(...found.values())).toBeGreaterThan(0)
  expect([...found.values()].reduce((n, pieces) => n + pieces, 0)).toBe(short)
  await expect(page.getByText(`${found.size} parts in `)).toBeVisible()
})

test('for what is short the nearest colours at home and on offer are told, and how far they are apart', async ({
  page,
}) => {
  await openDemo(page, `${COLOURS}?view=nearest`)
  const grid = page.getByRole('grid', { name: 'Nearest colours' })
  const heading = grid.getByRole('columnheader', { name: 'Nearest at home' }).getByRole('button')
  await heading.click()
  /** Of each row in the page, from the top: how far the nearest colour at home is, and how many are left over. */
  const nearest = () =>
    cellsOf(grid).then((rows) =>
      rows.flatMap((cells) => {
        const [, apart, left] = /([\d.]+) apart.*?(\d+) left over/.exec(cells[2] ?? '') ?? []
        return apart === undefined ? [] : [{ apart: Number(apart), left: Number(left) }]
      }),
    )
  await expect.poll(async () => (await nearest()).length).toBeGreaterThan(3)
  const found = await nearest()
  expect(found.map((f) => f.apart)).toEqual(found.map((f) => f.apart).sort((p, q) => p - q))
  expect(Math.min(...found.map((f) => f.left))).toBeGreaterThan(0)
})

test('the recolouring that helps most is found by trying, and done', async ({ page }) => {
  await openDemo(page, `${COLOURS}?view=recolour`)
  const line = page.getByRole('heading', { level: 2 })
  await expect(line).toContainText(/leaves \d+ short, \d+ pieces? fewer/)
  const short = Number(/leaves (\d+) short/.exec((await line.textContent()) ?? '')?.[1])
  await page
    .getByRole('button', { name: /^Exchange / })
    .first()
    .click()
  await page.getByRole('link', { name: /Tally/ }).click()
  await expect.poll(() => told(page, /([\d\u202f]+) pieces of/)).toBe(short)
})
