import { expect, type Page } from '@playwright/test'
import { BUILD, choose, goWithin, grouped, headline, openDemo, settled, told } from './demo.ts'
import { test } from './profile.ts'

const lines = (page: Page) => page.getByRole('grid', { name: /^Lines of/ })
const type = async (page: Page, text: string) => {
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
const pieces = (page: Page) => told(page, /come to ([\d\u202f]+) pieces/)

test('a line changes its piece, colour and module where it stands; several are chosen, marked, moved and removed by key', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/design?module=m-rock-face`)
  const grid = lines(page)
  const all = await pieces(page)
  const cell = (row: number, column = 0) => grid.getByRole('row').nth(row).getByRole('gridcell').nth(column)
  // A colour alone keeps the part, a part alone the colour, both together change both.
  await cell(1).click()
  await type(page, 'Soot')
  await expect(cell(1)).toHaveText(/wedge 4x6 right hand\s*Soot/)
  await cell(1).click()
  await type(page, 'wedge 4x6 left hand')
  await expect(cell(1)).toHaveText(/wedge 4x6 left hand\s*Soot/)
  await cell(1).click()
  await type(page, 'brick 2x6, Chalk')
  await expect(cell(1)).toHaveText(/brick 2x6\s*Chalk/)
  // What is no piece is refused where it stands, and Escape takes it back.
  await cell(1).click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('12 brick 2x6 Soot')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'how many is said in another cell' })).toBeVisible()
  await page.keyboard.press('Escape')
  expect(await pieces(page)).toBe(all)

  // Three lines by keyboard: marked together, moved together.
  await cell(2).click()
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  const chosen = page.getByRole('region', { name: 'Chosen lines' })
  await expect(chosen).toContainText('3 lines chosen')
  await choose(page, 'Where the chosen are', 'hidden')
  for (const row of [2, 3, 4]) await expect(cell(row, 5)).toHaveText('hidden')
  const counts = await Promise.all([2, 3, 4].map(async (row) => Number(await cell(row, 1).textContent())))
  const before = await grid.getAttribute('aria-rowcount')
  await choose(page, 'Move the chosen to', 'Luggage')
  await expect(grid).toHaveAttribute('aria-rowcount', String(Number(before) - 3))
  expect(await pieces(page)).toBe(all)
  // Removed by key, taken back as one act.
  await goWithin(page, `${BUILD}/design?module=m-people-and-luggage`)
  await expect(grid).toHaveAccessibleName('Lines of Luggage')
  await grid.focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.press('Shift+ArrowUp')
  await page.keyboard.press('Shift+ArrowUp')
  await page.keyboard.press('Delete')
  const gone = counts.reduce((n, c) => n + c, 0)
  await expect(headline(page)).toContainText(`${grouped(all - gone)} pieces`)
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toContainText(`${grouped(all)} pieces`)
})

test('one part is swapped for another in all lines; a line moves and goes by its details', async ({ page }) => {
  await openDemo(page, `${BUILD}/design?module=m-rock-face`)
  const grid = lines(page)
  await grid
    .getByRole('gridcell', { name: /slope 2x2 65/ })
    .first()
    .click()
  const line = page.getByRole('region', { name: 'Line' })
  await line.getByText(/^Swap slope 2x2 65° in all \d+ lines/).click()
  await line.getByRole('combobox', { name: 'Another part instead' }).fill('slope 2x2 45°')
  await line.getByRole('button', { name: 'Swap', exact: true }).click()
  await expect(page.getByText(/^Swapped slope 2x2 65° for slope 2x2 45° in \d+ lines/).first()).toBeVisible()
  await expect(grid.getByRole('gridcell', { name: /slope 2x2 65/ })).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(grid.getByRole('gridcell', { name: /slope 2x2 65/ }).first()).toBeVisible()
  const all = await pieces(page)
  await grid.getByRole('row').nth(1).getByRole('gridcell').nth(2).click()
  const [one = ''] = (await grid.getByRole('row').nth(1).getByRole('gridcell').nth(1).allTextContents()) as string[]
  await line.getByRole('button', { name: 'Remove the line' }).press('Enter')
  await expect(headline(page)).toContainText(`${grouped(all - Number(one))} pieces`)
  // The same by the menu of the table, for the row it was opened on.
  const [two = ''] = (await grid.getByRole('row').nth(3).getByRole('gridcell').nth(1).allTextContents()) as string[]
  await grid.getByRole('row').nth(3).getByRole('gridcell').nth(1).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Remove 1 line' }).click()
  await expect(headline(page)).toContainText(`${grouped(all - Number(one) - Number(two))} pieces`)
})

test('what donors and shelf can still give is found and added from; the lookout says what is free', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/design?module=m-people-and-luggage`)
  const all = await pieces(page)
  await page.getByRole('button', { name: 'Still there' }).click()
  const still = page.getByRole('region', { name: 'Still there' })
  await still.getByRole('searchbox').fill('plate 2x4')
  const first = still.getByRole('list', { name: 'Pieces still there' }).getByRole('listitem').first()
  await expect(first).toContainText('plate 2x4')
  const [, free] = /of ([\d\u202f]+)/.exec((await first.textContent()) ?? '') ?? []
  const name = ((await first.getByRole('button', { name: /^Add / }).getAttribute('aria-label')) ?? '').replace(
    /^Add /,
    '',
  )
  await first.getByRole('button', { name: /^Look out for/ }).click()
  const lookout = still.getByRole('region', { name: 'Lookout' })
  await expect(lookout).toContainText('1 of 1')
  await lookout.getByLabel(`Target of ${name}`).fill('5000')
  await lookout.getByLabel(`Target of ${name}`).press('Enter')
  await expect(lookout).toContainText(`${free} there`)
  await goWithin(page, `${BUILD}/brief`)
  await expect(page.getByText(/Free now, of what is looked out for/)).toContainText(`${free} of 5\u202f000 ${name}`)
  // Added to the design it is no longer free.
  await goWithin(page, `${BUILD}/design?module=m-people-and-luggage`)
  await page.getByRole('button', { name: 'Still there' }).click()
  await still.getByRole('searchbox').fill('plate 2x4')
  await still.getByLabel(`How many ${name}`).fill(String(Number(free)))
  await still.getByLabel(`How many ${name}`).press('Enter')
  await still.getByRole('button', { name: `Add ${name}` }).click()
  await expect(headline(page)).toContainText(`${grouped(all + Number(free))} pieces`)
  await expect(lookout).toContainText('0 there')
  // Elsewhere in the app, when it comes free again, one is told at that moment.
  await goWithin(page, `${BUILD}/tally`)
  await settled(page)
  await page.keyboard.press('Control+z')
  await expect(page.getByText(/^Free now for Mountain observatory/)).toContainText(`: ${free} of 5\u202f000 ${name}.`)
})

test('a donor that stands built is changed in part: the sheet says what stays, comes off and is added, and gives it back', async ({
  page,
}) => {
  await openDemo(page, '/build/b-weather-station/design?view=changes')
  const title = page.getByRole('heading', { level: 2 })
  const [kept = 0, off = 0] = (/keep (\d+), take off (\d+)/.exec((await title.textContent()) ?? '') ?? [])
    .slice(1)
    .map(Number)
  await expect(page.getByText(`${kept} kept and ${off} put back make its ${kept + off} pieces`)).toBeVisible()
  const stage = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Upper floor' }) })
  await expect(stage).toContainText(/pieces of it stay/)
  await stage.getByRole('button', { name: 'Take it off' }).click()
  await expect(stage).toContainText('taken off as a whole')
  await expect(page.getByText(/make its/)).toContainText(`${kept + off} pieces`)
  await stage.getByRole('button', { name: 'As it was' }).click()
  await expect(stage).toContainText('stays as it is')
  await choose(page, 'Upper floor as a whole', 'is moved')
  await expect(stage).toContainText('The stage as a whole is moved')
  // On paper the sheet stands alone, without its buttons.
  await page.emulateMedia({ media: 'print' })
  await expect(stage.getByRole('button', { name: 'As it was' })).toBeHidden()
  await expect(page.getByText(/make its/)).toBeVisible()
})

test('the cells of the shelf take places, conditions, lengths and counts, one by one and as a pasted block', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openDemo(page, '/shelf')
  await page.getByRole('searchbox', { name: 'Find on the shelf' }).fill('hose 8')
  const grid = page.getByRole('grid', { name: 'Holdings' })
  const cell = (column: number, row = 1) => grid.getByRole('row').nth(row).getByRole('gridcell').nth(column)
  await cell(2).click()
  await type(page, 'nowhere')
  await expect(page.getByRole('alert')).toContainText('No single place is called "nowhere"')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('drawer a1')
  await page.keyboard.press('Enter')
  await expect(cell(2)).toHaveText('Drawer A1')
  await cell(3).click()
  await type(page, 'w')
  await expect(cell(3)).toHaveText('worn')
  await cell(4).click()
  await type(page, '12 cm')
  await expect(cell(4)).toHaveText('120 mm')
  await page.evaluate(() => navigator.clipboard.writeText('~30\tDrawer A2\tnot stated\t45 mm'))
  await cell(1).click()
  await page.keyboard.press('Control+v')
  await expect(cell(1)).toHaveText('about 30')
  await expect(cell(2)).toHaveText('Drawer A2')
  await expect(cell(3)).toHaveText('not stated')
  await expect(cell(4)).toHaveText('45 mm')
  await page.keyboard.press('Control+z')
  await expect(cell(4)).toHaveText('120 mm')
})
