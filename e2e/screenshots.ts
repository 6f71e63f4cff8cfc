import { test, type Page } from '@playwright/test'

const BUILD = '/build/b-observatory'

test('pictures of the main views', async ({ page }) => {
  const picture = async (name: string) => {
    // Until then the data are being opened.
    await page.locator('h1').waitFor()
    await page.waitForTimeout(400)
    await page.screenshot({ path: `docs/screenshots/${name}.png` })
  }
  await page.goto('/?demo')
  await page.getByRole('link', { name: /Mountain observatory/ }).waitFor()
  await quiet(page)
  await page.goto(`${BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await page.getByText(/usable offers/).waitFor()
  await page.getByRole('button', { name: 'Find the cheapest orders' }).click()
  await page.getByText('What it is made of').waitFor({ timeout: 60_000 })
  await page.reload()
  await page.locator('summary').filter({ hasText: 'costliest' }).first().click()
  await picture('buy')
  await page.goto('/')
  await picture('builds')
  for (const step of ['brief', 'donors', 'design', 'tally']) {
    await page.goto(`${BUILD}/${step}`)
    if (step === 'tally')
      await page
        .getByRole('gridcell', { name: /brick 2x6/ })
        .first()
        .click()
    await picture(step)
  }
  await page.goto(`${BUILD}/design?view=colourways`)
  await page.getByRole('row', { name: /^Oat and honey/ }).waitFor()
  await picture('colourways')
  await page.goto(`${BUILD}/design?view=sheet`)
  await page.locator('.sheet svg').first().waitFor()
  await picture('sheet')
  await page.goto('/build/b-weather-station/design?view=changes')
  await page.getByRole('heading', { name: 'Upper floor' }).waitFor()
  await picture('changes')
  await page.goto(`${BUILD}/design?view=yield&module=m-parapet-section`)
  await page.getByRole('button', { name: 'Ask the market for what is short' }).click()
  await page.getByRole('img', { name: /9: 1 to buy/ }).waitFor()
  await quiet(page)
  await picture('yield')
  await page.goto(`${BUILD}/design?view=figures`)
  await page.getByRole('heading', { name: 'Astronomer Liv' }).waitFor()
  await picture('figures')
  await page.goto(`${BUILD}/design?view=trial`)
  await page.getByText(/all 55 pieces/).waitFor()
  await picture('trial')
  await page.goto(`${BUILD}/colours`)
  await page.getByRole('row', { name: /^Chalk/ }).waitFor()
  await picture('colours')
  await page.goto('/shops')
  await page.getByRole('button', { name: 'Add a shop' }).click()
  await page.getByRole('combobox', { name: 'Shipping is' }).waitFor()
  await quiet(page)
  await picture('shops')
  await page.goto('/catalogue/set/s-mountain-post-office')
  await page.getByRole('grid').waitFor()
  await picture('set')
  await page.goto('/shelf?place=l-little-tram')
  await page.getByText('Released, it would give').waitFor()
  await picture('shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill(
      [
        'Anzahl;Farbe;Teil;Fach',
        '24;Soot;plate 2x8;A1',
        '~60;dusty blue;brick 2 by 4;A2',
        '7;Chalk;wedge plate 2x4, right hand;A2',
        '-3;Chalk;tile 1x4;A3',
        '12;Spruce;gizmo;A3',
      ].join('\n'),
    )
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('region', { name: 'Unknown colours' }).waitFor()
  await picture('import')
  await page.goto('/data')
  await picture('data')
  await page.getByRole('button', { name: 'Dark theme' }).click()
  await page.goto(`${BUILD}/tally?by=source`)
  await picture('tally-dark')
})

/** Lets the notices fade before a picture. */
const quiet = (page: Page) => page.waitForTimeout(4500)
