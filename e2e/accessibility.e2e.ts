import { expect } from '@playwright/test'
import { axeFinds, BUILD, goWithin, openDemo, settled } from './demo.ts'
import { test } from './profile.ts'

const SCREENS = [
  '/',
  `${BUILD}/brief`,
  `${BUILD}/donors`,
  `${BUILD}/donors?view=worth`,
  `${BUILD}/donors?view=compare`,
  `${BUILD}/donors?view=offered`,
  `${BUILD}/design`,
  ...['colourways', 'yield', 'figures', 'versions', 'trial', 'sheet'].map((view) => `${BUILD}/design?view=${view}`),
  `${BUILD}/tally`,
  `${BUILD}/tally?by=item`,
  `${BUILD}/tally?by=source`,
  `${BUILD}/colours`,
  `${BUILD}/colours?view=grid`,
  `${BUILD}/colours?view=nearest`,
  `${BUILD}/colours?view=recolour`,
  `${BUILD}/buy`,
  ...['orders', 'ready', 'replan', 'claims'].map((view) => `/build/b-yard-kiosk/parcels?view=${view}`),
  ...['next', 'apart', 'sort', 'fetch', 'build', 'swaps', 'remarks'].map(
    (view) => `/build/b-valley-station/make?view=${view}`,
  ),
  ...['cost', 'entries', 'surplus', 'log', 'sheet'].map((view) => `${BUILD}/ledger?view=${view}`),
  '/ledgers',
  '/parcels',
  '/parcels/bench/r-kiosk-10',
  '/shelf',
  '/shelf?place=l-little-tram',
  '/shops',
  '/together',
  '/catalogue',
  '/catalogue?view=parts',
  '/catalogue?view=colours',
  '/catalogue/set/s-tramway-workshop',
  '/data',
]

for (const theme of ['light', 'dark'] as const)
  test(`axe finds nothing on any screen, ${theme}`, async ({ page }) => {
    await page.addInitScript((t) => {
      localStorage.setItem('theme', t)
    }, theme)
    await openDemo(page, '/')
    // The dark theme changes colours alone, and views of a screen share them.
    for (const path of SCREENS.filter((p) => theme === 'light' || !p.includes('?view='))) {
      await goWithin(page, path)
      if (path.endsWith('/buy')) {
        await page.getByRole('button', { name: /^Ask/ }).click()
        await page.getByRole('complementary', { name: 'Shops' }).waitFor()
      }
      await settled(page)
      expect([path, ...(await axeFinds(page, theme === 'dark' ? 'contrast' : 'usual'))]).toEqual([path])
      const wide = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      )
      expect([path, wide]).toEqual([path, 0])
    }
    await goWithin(page, '/shelf')
    await page.getByRole('button', { name: 'Import a shelf list' }).click()
    await page
      .getByRole('textbox', { name: 'Rows' })
      .fill('part,colour,qty\nplate 2x4,Nowhere hue,4\nodd thing,Soot,x\n')
    await page.getByRole('button', { name: 'Read the rows' }).click()
    await page.getByRole('region', { name: 'Unknown colours' }).waitFor()
    expect(await axeFinds(page)).toEqual([])
    // One text that is hard to read is found.
    await page
      .getByRole('region', { name: 'Unknown colours' })
      .getByText('Nowhere hue')
      .first()
      .evaluate((element) => {
        element.style.color = 'rgb(128 128 128 / 60%)'
      })
    expect(await axeFinds(page, 'contrast')).toEqual([expect.stringMatching(/^color-contrast: .*Nowhere hue/)])
  })
