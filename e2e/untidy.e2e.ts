import { expect } from '@playwright/test'
import writeWorkbook from 'write-excel-file/node'
import { choose, goWithin, headline, startBuild } from './demo.ts'
import { cells } from './workbook.ts'
import { test } from './profile.ts'

test('three untidy lists, from an empty profile to baskets', async ({ page }) => {
  const build = await startBuild(page, 'Weather mast')

  // A workbook with titles above, bags as sections, and a sum below.
  await goWithin(page, `${build}/donors`)
  await page.getByRole('button', { name: 'Import an inventory' }).click()
  const workbook = await writeWorkbook([
    {
      sheet: 'Hut',
      data: cells([
        ['Inventory of the hut'],
        ['as bought in spring'],
        ['Part', 'Colour', 'Quantity', 'Weight'],
        ['Bag 1'],
        ['plate 2x4', 'Soot', 20, 1],
        ['brick 1x1', 'dark red', 6, 1],
        ['Bag 2'],
        ['tile 1x4', 'Chalk', 8, 1],
        ['Total', '', 34, ''],
      ]),
    },
  ]).toBuffer()
  await page.getByLabel('List file').setInputFiles({
    name: 'hut.xlsx',
    mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    buffer: workbook,
  })
  await expect(page.getByText(/^2 rows can come in, 1 wait for a colour/)).toBeVisible()
  await expect(
    page.getByText(/Left out: 2 rows \(above the headings\), 2 rows \(section\), 1 row \(sum\)/),
  ).toBeVisible()
  await expect(page.getByText(/Not used: Weight/)).toBeVisible()
  await page.getByRole('button', { name: 'Add all as new colours' }).click()
  // Leaving the dialog discards nothing.
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Import an inventory' }).click()
  await page.getByRole('button', { name: 'Import 3 rows' }).click()
  await expect(headline(page)).toContainText('1 copy holds 34 pieces')

  // Semicolons, another language, words for conditions, quantities with words.
  await goWithin(page, '/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill(
      'Meine Steine\n\nBezeichnung;Farbe;Anzahl;Lagerort;Zustand\nplate 2x4;Soot;ca. 10 Stk;Kiste 1;gebraucht\ntile 1x4;Chalk;2+1;Kiste 1;B-Ware\nbrick 1x1;dark red;viele;Kiste 2;neu\nSumme;;13;;\n',
    )
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await expect(page.getByText(/^1 row can come in, 2 refused/)).toBeVisible()
  await choose(page, 'What B-Ware means', 'worn')
  await expect(page.getByText(/^2 rows can come in, 1 refused/)).toBeVisible()
  await page.getByRole('button', { name: 'Refused (1)' }).click()
  const refused = page.getByRole('grid', { name: 'Refused rows' })
  await refused.getByRole('gridcell', { name: 'viele', exact: true }).click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('4')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Import 3 rows' }).click()
  await expect(headline(page)).toContainText('17 pieces in 3 holdings, 2 places')

  // A pasted matrix, its colours across.
  await goWithin(page, `${build}/design`)
  await page.getByRole('button', { name: 'Import a parts list' }).click()
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill('Part\tSoot\tChalk\tdark red\nplate 2x4\t30\t\t\ntile 1x4\t\t12\t\nbrick 1x1\t\t\t8\n')
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('button', { name: 'Read them as colours' }).click()
  await page.getByRole('button', { name: 'Import 3 rows' }).click()
  await expect(headline(page)).toContainText('50 pieces of 3 different items')

  // Offers of one's own; what shipping costs is not known, and said.
  await goWithin(page, `${build}/buy`)
  await expect(page.getByText('The market is invented, for practice')).toBeVisible()
  await page.getByRole('button', { name: 'Import offers' }).click()
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill(
      'Laden;Teil;Farbe;Preis;Bestand\nEcke;plate 2x4;Soot;0,10;99\nEcke;tile 1x4;Chalk;0,20;99\nEcke;brick 1x1;dark red;0,05;99\n',
    )
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('button', { name: 'Import 3 rows' }).click()
  await page.getByRole('button', { name: 'Find the cheapest orders' }).click()
  await expect(headline(page)).toContainText('without the shipping of 1 shop')
  await expect(page.getByRole('heading', { name: '1 basket' })).toBeVisible()
})

test('three untidy lists by keyboard alone, from an empty profile to baskets', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto('/')
  const { keyboard } = page
  const command = async (text: string) => {
    await keyboard.press('Control+k')
    await expect(page.getByPlaceholder('Go to, do, or find a piece…')).toBeFocused()
    await keyboard.type(text)
    await expect(page.getByRole('option', { selected: true })).toContainText(new RegExp(text, 'i'))
    await keyboard.press('Enter')
  }
  /** Goes on with Tab to what is called so. */
  const tabTo = async (name: RegExp) => {
    for (let i = 0; i < 200; i++) {
      const at = await page.evaluate(() => {
        const { activeElement: el } = document
        return (el?.getAttribute('aria-label') ?? el?.textContent ?? '').trim()
      })
      if (name.test(at)) return
      await keyboard.press('Tab')
    }
    throw new Error(`no way by Tab to ${String(name)}`)
  }
  const bring = async (act: string, text: string) => {
    await command(act)
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByRole('textbox', { name: 'Rows' })).toBeFocused()
    await page.evaluate((t) => navigator.clipboard.writeText(t), text)
    await keyboard.press('Control+v')
    await tabTo(/^Read the rows$/)
    await keyboard.press('Enter')
    await expect(dialog.getByRole('button', { name: /^Import [\d\u202f]+ rows?$/ })).toBeVisible()
    if (await dialog.getByRole('button', { name: 'Read them as colours' }).isVisible()) {
      await tabTo(/^Read them as colours$/)
      await keyboard.press('Enter')
      await expect(dialog.getByRole('button', { name: 'Import 2 rows' })).toBeVisible()
    }
    if (await dialog.getByRole('region', { name: 'Unknown colours' }).isVisible()) {
      await tabTo(/^Add all as new colours$/)
      await keyboard.press('Enter')
    }
    await tabTo(/^Import \d+ rows?$/)
    await expect(page.getByRole('button', { name: /^Import \d+ rows?$/ })).toBeEnabled()
    await keyboard.press('Enter')
    await expect(dialog).toBeHidden()
  }
  await tabTo(/^New build$/)
  await keyboard.press('Enter')
  await expect(page.getByRole('dialog').getByLabel('Name')).toBeFocused()
  await keyboard.type('Weather mast')
  await keyboard.press('Enter')
  await expect(page).toHaveURL(/brief$/)
  // A semicolon list in another language, with a title, sections and a sum; then a matrix of parts by colour.
  await bring(
    'Import a shelf list',
    'Meine Steine;;;\nTeil;Farbe;Anzahl;Zustand\nFach A;;;\nplate 2x4;Soot;12 Stk;gebraucht\nbrick 1x1;dunkelrot;3;neu\nSumme;;15;\n',
  )
  await expect(headline(page)).toContainText('15 pieces in 2 holdings')
  await bring('Import a parts list for this build', 'Part\tSoot\tChalk\nplate 2x4\t20\t\ntile 1x4\t\t6\n')
  await expect(headline(page)).toContainText('26 pieces')
  await bring(
    'Import offers',
    'sep=,\nshop,part,colour,price,stock,condition\nCorner shop,plate 2x4,Soot,"0,10",40,as new\nCorner shop,tile 1x4,Chalk,"0,05",40,\n',
  )
  await command('Find the cheapest orders')
  // 8 plates at 0.10 and 6 tiles at 0.05; what the shop asks for shipping is not known.
  await expect(headline(page)).toContainText('1.10 EUR in 1 order')
  await expect(headline(page)).toContainText('without the shipping of 1 shop')
})
