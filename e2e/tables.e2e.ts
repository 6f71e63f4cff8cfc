import { expect, type Page } from '@playwright/test'
import { cellsOf, goWithin, openDemo } from './demo.ts'
import { test } from './profile.ts'

const clipboard = (page: Page) => page.evaluate(() => navigator.clipboard.readText())

test.beforeEach(async ({ context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
})

test('rows are copied after a mouse click, several at once, as they are shown; a block is pasted over cells', async ({
  page,
}) => {
  await openDemo(page, '/shelf')
  const grid = page.getByRole('grid', { name: 'Holdings' })
  await grid.waitFor()
  const shown = await cellsOf(grid)
  await grid.getByRole('row').nth(2).getByRole('gridcell').nth(2).click()
  await page.keyboard.press('Control+c')
  const [one] = (await clipboard(page)).split('\n')
  const cells = one?.split('\t') ?? []
  // The piece's name is drawn by a component: its text is the name, and all others are as shown.
  expect(cells.slice(1)).toEqual(shown[1]?.slice(1))
  expect(cells[0]).toMatch(/^[a-z].*, [A-Z]/)

  // Three rows with Shift, then two more one by one, then all.
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Control+c')
  expect((await clipboard(page)).split('\n').length).toBe(3)
  await grid.getByRole('row').nth(1).getByRole('gridcell').nth(2).click()
  await grid
    .getByRole('row')
    .nth(4)
    .getByRole('gridcell')
    .nth(2)
    .click({ modifiers: ['Control'] })
  await page.keyboard.press('Control+c')
  expect((await clipboard(page)).split('\n').map((r) => r.split('\t')[2])).toEqual([shown[0]?.[2], shown[3]?.[2]])
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  expect((await clipboard(page)).split('\n').length).toBe(341)
  await page.keyboard.press('Escape')

  // A block of two quantities over two cells, after a click on the first.
  await page.evaluate(() => navigator.clipboard.writeText('11\n~22\n'))
  await grid.getByRole('row').nth(1).getByRole('gridcell').nth(1).click()
  await page.keyboard.press('Control+v')
  await expect.poll(async () => (await cellsOf(grid)).slice(0, 2).map((r) => r[1])).toEqual(['11', 'about 22'])
})

test('headings are reached and sorted by keyboard; 20,000 names of a grid are not needed for that', async ({
  page,
}) => {
  await openDemo(page, '/shelf')
  const grid = page.getByRole('grid', { name: 'Holdings' })
  await grid.getByRole('row').nth(1).getByRole('gridcell').first().click()
  const active = () =>
    grid.evaluate((g) => document.getElementById(g.getAttribute('aria-activedescendant') ?? '')?.getAttribute('role'))
  await page.keyboard.press('ArrowUp')
  expect(await active()).toBe('columnheader')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await expect(grid.getByRole('columnheader', { name: 'Pieces' })).toHaveAttribute('aria-sort', 'ascending')
  const pieces = async () => (await cellsOf(grid)).map((r) => Number(/\d+/.exec(r[1] ?? '')?.[0]))
  expect(await pieces()).toEqual((await pieces()).toSorted((p, q) => p - q))
  await page.keyboard.press('Space')
  await expect(grid.getByRole('columnheader', { name: 'Pieces' })).toHaveAttribute('aria-sort', 'descending')
  await page.keyboard.press('ArrowDown')
  expect(await active()).toBe('gridcell')
})

test('money is copied as it is shown, and what there is none of as the dash it shows', async ({ page }) => {
  await openDemo(page, '/build/b-observatory/donors?view=worth')
  const grid = page.getByRole('grid').first()
  await grid.getByRole('row').nth(1).getByRole('gridcell').first().click()
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  const text = await clipboard(page)
  expect(text).not.toMatch(/Infinity|NaN|undefined/)
  expect(text).toMatch(/\d+\.\d\d EUR/)
})

test('lists are right on paper: every row, none over another, pictures and swatches at their size', async ({
  page,
}) => {
  await openDemo(page, '/shelf')
  await page.getByRole('grid', { name: 'Holdings' }).waitFor()
  const onPaper = async () => {
    await page.emulateMedia({ media: 'print' })
    await page.evaluate(() => window.dispatchEvent(new Event('beforeprint')))
    const rows = await page.locator('[role=row][aria-rowindex]').evaluateAll((all) =>
      all.map((row) => {
        const { top, bottom } = row.getBoundingClientRect()
        const pictures = [...row.querySelectorAll('svg')].map((svg) => svg.getBoundingClientRect())
        return { top, bottom, picture: Math.max(0, ...pictures.map((p) => p.width * p.height)) }
      }),
    )
    return rows.sort((p, q) => p.top - q.top)
  }
  const rows = await onPaper()
  // 341 holdings and the headings.
  expect(rows.length).toBe(342)
  for (const [i, row] of rows.entries()) {
    const before = rows[i - 1]
    if (before) expect(row.top).toBeGreaterThanOrEqual(before.bottom - 1)
    if (i > 0) expect(row.picture).toBeGreaterThan(300)
  }
  expect((await page.pdf({ format: 'A4' })).byteLength).toBeGreaterThan(50_000)

  // A list to fetch by is printed alone.
  await page.emulateMedia({ media: 'screen' })
  await goWithin(page, '/build/b-observatory/tally?by=source')
  await page.getByRole('gridcell').first().click()
  const list = page.getByRole('complementary', { name: 'Source' })
  await expect(list.getByRole('listitem').first()).toBeVisible()
  const items = await list.getByRole('listitem').count()
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('grid')).toBeHidden()
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeHidden()
  await expect(list).toBeVisible()
  expect(await list.getByRole('listitem').count()).toBe(items)
})
