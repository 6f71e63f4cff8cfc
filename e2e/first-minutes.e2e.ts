import { expect, type Page } from '@playwright/test'
import { goWithin, headline, startBuild } from './demo.ts'
import { test } from './profile.ts'

/** Drops files on the page itself, as from another window. */
const drop = (page: Page, files: readonly { readonly name: string; readonly text: string }[]) =>
  page.evaluate((dropped) => {
    const data = new DataTransfer()
    for (const { name, text } of dropped) data.items.add(new File([text], name, { type: 'text/csv' }))
    for (const kind of ['dragover', 'drop'])
      document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }))
  }, files)

test('an empty build leads: each of its three parts says how it stands and has its way in; the rules are folded', async ({
  page,
}) => {
  await startBuild(page, 'Weather mast')
  const steps = page.getByRole('list', { name: 'First steps' }).getByRole('listitem')
  await expect(steps).toHaveCount(3)
  await expect(steps.nth(0)).toContainText('No set serves it yet')
  await expect(page.getByRole('combobox', { name: 'Aim' })).toBeHidden()
  await page.getByRole('button', { name: 'Boxes and shelf' }).click()
  await page.getByText('Every rule by itself').click()
  await expect(page.getByRole('combobox', { name: 'Pieces may come from' })).toContainText('shelf')
  await steps.nth(1).getByRole('link', { name: 'Import a shelf list' }).click()
  await page.getByRole('textbox', { name: 'Rows' }).fill('part,colour,qty\nplate 2x4,Soot,5\n')
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await expect(page.getByText('1 row says no condition: not stated.')).toBeVisible()
  await page.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(page.getByRole('gridcell', { name: 'not stated' })).toBeVisible()
  await page
    .getByRole('navigation', { name: 'Main' })
    .getByRole('link', { name: /^Brief/ })
    .click()
  await expect(steps.nth(1)).toContainText('5 pieces in 1 holding')
  await steps.nth(2).getByRole('link', { name: 'or begin from a donor' }).click()
  await page.getByRole('button', { name: 'Add a module' }).click()
  await page.getByRole('combobox', { name: 'New line' }).fill('4 plate 2x4 Soot')
  await page.getByRole('combobox', { name: 'New line' }).press('Enter')
  // What is not stated counts as used, by a rule that can be seen.
  await page
    .getByRole('navigation', { name: 'Main' })
    .getByRole('link', { name: /^Brief/ })
    .click()
  await expect(headline(page)).toContainText('4 covered')
  await page.getByRole('combobox', { name: 'Condition not stated counts as' }).click()
  await page.getByRole('option', { name: 'worn' }).click()
  await expect(headline(page)).toContainText('4 short')
})

test('files dropped anywhere open the import that they are for, one after the other; what they do not say is asked', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New build' }).waitFor()
  await drop(page, [
    { name: 'loose.csv', text: 'Teil;Farbe;Anzahl;Fach\nplate 2x4;Soot;5;Drawer 1\n' },
    { name: 'more.csv', text: 'part,colour,qty,place,condition\nbrick 1x1,Chalk,7,Drawer 2,used\n' },
    { name: 'market.csv', text: 'shop,part,colour,price,stock\nCorner shop,plate 2x4,Soot,0.10,40\n' },
  ])
  await expect(page).toHaveURL(/\/shelf$/)
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('plate 2x4')
  await dialog.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(dialog).toContainText('brick 1x1')
  await dialog.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(page).toHaveURL(/\/shops$/)
  await dialog.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(headline(page)).toContainText('1 shop')
  await goWithin(page, '/shelf')
  await expect(headline(page)).toContainText('12 pieces in 2 holdings, 2 places')

  await goWithin(page, '/')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/Builds/)
  await drop(page, [{ name: 'pieces.csv', text: 'part,colour,qty\ntile 1x4,Soot,3\n' }])
  await expect(dialog).toContainText('What is in pieces.csv?')
  await dialog.getByRole('button', { name: 'What lies on the shelf' }).click()
  await expect(page).toHaveURL(/\/shelf$/)
  await expect(dialog).toContainText('tile 1x4')
})

test('the practice files come in as they are meant', async ({ page }) => {
  await page.goto('/')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'A shelf list' }).click(),
  ])
  await goWithin(page, '/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.getByLabel('List file').setInputFiles(await download.path())
  await page.getByRole('button', { name: /^Import \d+ rows$/ }).waitFor()
  const add = page.getByRole('button', { name: 'Add all as new colours' })
  if (await add.isVisible()) await add.click()
  await page.getByRole('button', { name: /^Import \d+ rows$/ }).click()
  await expect(headline(page)).toContainText('6 places')
})
