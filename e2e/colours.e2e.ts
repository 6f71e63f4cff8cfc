import { expect, test } from '@playwright/test'
import { BUILD, choose, headline, openDemo, told } from './demo.ts'

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

test('the recolouring that helps most is found by trying, and done', async ({ page }) => {
  await openDemo(page, `${COLOURS}?view=recolour`)
  const line = page.getByRole('heading', { level: 2 })
  await expect(line).toContainText(/leaves \d+ short, \d+ pieces? fewer/, { timeout: 60_000 })
  const short = Number(/leaves (\d+) short/.exec((await line.textContent()) ?? '')?.[1])
  await page
    .getByRole('button', { name: /^Exchange / })
    .first()
    .click()
  await page.getByRole('link', { name: /Tally/ }).click()
  await expect.poll(() => told(page, /([\d\u202f]+) pieces of/)).toBe(short)
})
