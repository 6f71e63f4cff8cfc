import { expect, type Page } from '@playwright/test'
import { axeFinds, BUILD, goWithin, openDemo, screensOf, settled, SMALL_BUILD } from './demo.ts'
import { test } from './profile.ts'

const SCREENS = screensOf(BUILD)

/** What is amiss with a screen in little room: what scrolls sideways that is no table, and tables too small to be read in. */
const amiss = (page: Page, at: string): Promise<string[]> =>
  page.evaluate((where) => {
    const found: string[] = []
    if (document.documentElement.scrollWidth > document.documentElement.clientWidth)
      found.push(`${where} scrolls sideways`)
    for (const grid of document.querySelectorAll('[role=grid]')) {
      const { width, height } = grid.getBoundingClientRect()
      if (width < 300 || height < 150) found.push(`${where}: table of ${Math.round(width)} × ${Math.round(height)}`)
    }
    return found
  }, at)

// WCAG 2.2, 1.4.4 (resize text to 200 %) and 1.4.10 (reflow): a 1280 × 800 window at 200 % is 640 × 400 of its own pixels.
test('at 200 % zoom and at 480 px every table keeps a size to be read in, and nothing scrolls sideways but tables', async ({
  page,
}) => {
  await openDemo(page, '/')
  const found: string[] = []
  for (const path of SCREENS) {
    // Opened at the width of the screen before, and drawn anew for each.
    await goWithin(page, path)
    for (const [width, height] of [
      [640, 400],
      [480, 800],
    ] as const) {
      await page.setViewportSize({ width, height })
      await settled(page)
      found.push(...(await amiss(page, `${path} at ${width}`)))
    }
  }
  expect(found).toEqual([])
  expect(await axeFinds(page, ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])).toEqual([])
})

test('forced colours, light and dark: strips, legends and swatches keep what tells them apart', async ({ page }) => {
  await page.emulateMedia({ forcedColors: 'active' })
  await openDemo(page, `${BUILD}/tally`)
  const strip = page.getByRole('img', { name: /^Coverage: / }).first()
  const grounds: string[] = []
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await goWithin(page, `${BUILD}/tally`)
    await strip.waitFor()
    const paints = await strip.evaluate((node) =>
      [...node.children].map((segment) => {
        const { backgroundImage, backgroundColor } = getComputedStyle(segment)
        return `${backgroundImage} ${backgroundColor}`
      }),
    )
    const canvas = await page.evaluate(() => getComputedStyle(document.body).backgroundColor)
    grounds.push(canvas)
    // Each segment is painted, and differently from the others.
    expect(paints.length).toBeGreaterThan(3)
    expect(new Set(paints).size).toBe(paints.length)
    for (const paint of paints) expect(paint).not.toBe(`none ${canvas}`)
    await goWithin(page, `${BUILD}/colours`)
    await page.locator('main table [style*=background]').nth(20).waitFor()
    const swatches = await page.evaluate(() =>
      [...document.querySelectorAll('main table [style*=background]')]
        .slice(0, 60)
        .map((s) => getComputedStyle(s).backgroundColor),
    )
    expect(new Set(swatches).size).toBeGreaterThan(6)
  }
  // They were looked at on two grounds.
  expect(new Set(grounds).size).toBe(2)
})

// WCAG 2.2, 2.4.3 (focus order) and 2.4.11 (focus not obscured).
test('the focus comes back to where a dialog was opened, also from a menu, and goes to the new screen after the palette', async ({
  page,
}) => {
  await openDemo(page, '/shelf')
  const opener = page.getByRole('button', { name: 'Import a shelf list' })
  await opener.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('dialog').waitFor()
  await page.keyboard.press('Escape')
  await expect(opener).toBeFocused()

  await goWithin(page, `${BUILD}/design`)
  const menu = page.getByRole('button', { name: 'Bring in' })
  await menu.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem').first().waitFor()
  await page.keyboard.press('Enter')
  await page.getByRole('dialog').waitFor()
  await page.keyboard.press('Escape')
  await expect(menu).toBeFocused()

  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('Go to, do, or find a piece…').fill('Shelf')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/shelf$/)
  await expect(page.locator('#main')).toBeFocused()
  // From there the next stop is in the screen, once it is there, not in the rail.
  await expect(page.getByRole('button', { name: 'Import a shelf list' })).toBeVisible()
  await page.keyboard.press('Tab')
  expect(await page.evaluate(() => document.activeElement?.closest('main') !== null)).toBe(true)
})

test('the palette does what screens do: imports, asking, finding; the build’s rail stays on the shelf', async ({
  page,
}) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  const does = async (what: string) => {
    await page.keyboard.press('Control+k')
    await page.getByPlaceholder('Go to, do, or find a piece…').fill(what)
    await page.keyboard.press('Enter')
  }
  await does('Ask the market')
  await expect(page.getByText(/usable offers from \d+ shops/)).toBeVisible()
  await expect(page).toHaveURL(/\/buy$/)
  await does('Import a shelf list')
  await expect(page.getByRole('dialog', { name: 'Import a shelf list' })).toBeVisible()
  await page.keyboard.press('Escape')
  // The build that is at hand stays so.
  const tally = page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: /^Tally/ })
  await tally.click()
  await expect(page).toHaveURL(new RegExp(`${SMALL_BUILD}/tally$`))
  await does('Import a parts list for this build')
  await expect(page.getByRole('dialog', { name: 'Import a design parts list' })).toBeVisible()
  await expect(page).toHaveURL(/\/design$/)
})
