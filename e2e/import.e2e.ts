import { writeFile } from 'node:fs/promises'
import { expect, type Page } from '@playwright/test'
import writeWorkbook from 'write-excel-file/node'
import { cells } from './workbook.ts'
import { test } from './profile.ts'

const open = async (page: Page) => {
  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
}

/** From the disk: what is handed over in pieces of text takes seconds. */
async function choose(page: Page, name: string, buffer: Buffer): Promise<void> {
  const file = test.info().outputPath(name)
  await writeFile(file, buffer)
  await page.getByLabel('List file').setInputFiles(file)
}

const headline = (page: Page) => page.locator('header p')

test('a workbook: the sheet is chosen, columns are corrected and remembered for the next of its kind', async ({
  page,
}) => {
  const workbook = (qty: number) =>
    writeWorkbook([
      { sheet: 'Notes', data: cells([['Counted in spring']]) },
      {
        sheet: 'Drawers',
        data: cells([
          ['What', 'Hue', 'A', 'B'],
          ['plate 2x4', 'Soot', 99, qty],
          ['brick 1x2', 'Chalk', 99, 3],
        ]),
      },
    ]).toBuffer()
  await open(page)
  await choose(page, 'drawers.xlsx', await workbook(5))
  await page.getByRole('combobox', { name: 'Sheet' }).click()
  await page.getByRole('option', { name: 'Drawers' }).click()
  await page.getByRole('combobox', { name: 'What B is' }).click()
  await page.getByRole('option', { name: 'Quantity', exact: true }).click()
  await expect(page.getByText('2 rows can come in')).toBeVisible()
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(headline(page)).toContainText('8 pieces in 2 holdings')

  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.getByRole('textbox', { name: 'Rows' }).fill('What,Hue,A,B\nplate 2x4,Soot,99,7\n')
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await expect(page.getByText(/^1 row can come in\. Not used: A\. Columns as the last time\./)).toBeVisible()
  await page.getByRole('button', { name: 'Back' }).click()
  await choose(page, 'drawers.xlsx', await workbook(6))
  await page.getByRole('combobox', { name: 'Sheet' }).click()
  await page.getByRole('option', { name: 'Drawers' }).click()
  await page.getByRole('combobox', { name: 'The list is to' }).click()
  await page.getByRole('option', { name: 'correct only what differs' }).click()
  await expect(page.getByRole('combobox', { name: 'What B is' })).toHaveText('Quantity')
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(headline(page)).toContainText('9 pieces in 2 holdings')
})

test('refused rows are mended in place; repeated rows are announced; a place can be replaced', async ({ page }) => {
  await open(page)
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill(
      'part,colour,qty,place\nplate 2x4,Soot,4,Tin\nplate 2x4,Soot,2,Tin\nbrick 1x1,Soot,-2,Tin\nthingummy,Soot,1,Tin\n',
    )
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await expect(
    page.getByText('3 rows can come in, 1 refused. 1 row repeats earlier ones and will be summed.'),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Doubtful' }).click()
  await expect(page.getByRole('gridcell', { name: /thingummy/ })).toBeVisible()
  await page.getByRole('button', { name: 'Refused (1)' }).click()
  const grid = page.getByRole('grid', { name: 'Refused rows' })
  await grid.getByRole('gridcell', { name: '-2', exact: true }).click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('2')
  await page.keyboard.press('Enter')
  await expect(page.getByText('4 rows can come in. 1 row repeats')).toBeVisible()
  await page.getByRole('button', { name: 'Import 4 rows' }).click()
  await expect(headline(page)).toContainText('9 pieces in 3 holdings')

  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.getByRole('textbox', { name: 'Rows' }).fill('part,colour,qty,place\nplate 2x4,Soot,10,Tin\n')
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('combobox', { name: 'The list is to' }).click()
  await page.getByRole('option', { name: 'replace the places it names' }).click()
  await page.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(headline(page)).toContainText('10 pieces in 1 holding')
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toContainText('9 pieces in 3 holdings')
})

test('files that cannot be lists are refused in words, and nothing is written', async ({ page }) => {
  await open(page)
  const row = 'plate 2x4,Soot,1\n'
  for (const [name, buffer, message] of [
    ['empty.csv', Buffer.from(''), 'There is nothing in it'],
    ['nul.csv', Buffer.from('part,colour\0,qty\n'), 'not a text file'],
    [
      'quote.csv',
      Buffer.from('part,colour,qty\n"plate 2x4,Soot,1\n'),
      'The quote opened in the row at line 2 is never closed',
    ],
    ['big.csv', Buffer.alloc(26 * 1024 * 1024, row), 'larger than 25 MB'],
    ['rows.csv', Buffer.from(`part,colour,qty\n${row.repeat(250_000)}`), 'more than 200000 rows'],
    ['wide.csv', Buffer.from(`${'a,'.repeat(80)}b\n`), '60 are the most'],
    ['broken.xlsx', Buffer.from('PK\x03\x04nonsense'), 'The workbook is damaged'],
    ['job.json', Buffer.from('{"format":"unfinished-brick-job","version":1}'), 'The file is damaged at savedAt'],
  ] as const) {
    await choose(page, name, buffer)
    await expect(page.getByRole('alert'), name).toContainText(message)
  }
  await choose(page, 'rtl.csv', Buffer.from('part,colour,qty\nלוח 2x4,Soot,3\n=1+1,Soot,2\n'))
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(headline(page)).toContainText('5 pieces in 2 holdings')
  await expect(page.getByRole('gridcell', { name: /לוח/ })).toBeVisible()
})
