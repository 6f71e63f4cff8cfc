import { readFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { BUILD, choose, goWithin, headline, openDemo, told } from './demo.ts'
import { test } from './profile.ts'

const TALLY = `${BUILD}/tally`
const short = (page: Page) => told(page, /([\d\u202f]+) pieces of/)
const lines = (page: Page) =>
  page
    .getByRole('status')
    .filter({ hasText: /lines?$/ })
    .textContent()
    .then((text) => parseInt(text ?? '', 10))

test('a stand-in is forbidden, allowed again, accepted; a supply pinned; each with its effect at once', async ({
  page,
}) => {
  await openDemo(page, `${TALLY}?show=doubtful`)
  await expect(page.getByText(/^Proven best: fewest pieces short/)).toBeVisible()
  const doubtful = await lines(page)
  expect(doubtful).toBeGreaterThan(3)
  // Stand-ins of up to eight points are found good; what rests on estimates stays to be looked at.
  await page.getByRole('button', { name: 'All at once' }).click()
  await page.getByRole('menuitem', { name: /^Accept stand-ins of up to 8 points/ }).click()
  await expect.poll(() => lines(page)).toBeLessThan(doubtful)
  await page.keyboard.press('Control+z')
  await expect.poll(() => lines(page)).toBe(doubtful)

  await choose(page, 'Lines shown', 'with stand-ins')
  const before = await short(page)
  const choices = page.getByRole('region', { name: 'Choices' })
  await choices.getByRole('button', { name: 'Forbid' }).first().click()
  await page.getByRole('menuitem', { name: 'In this build' }).click()
  await expect(choices.getByRole('button', { name: 'Allow again' })).toBeVisible()
  await goWithin(page, `${BUILD}/brief`)
  await expect(page.getByText(/ never for /)).toBeVisible()
  await page.getByRole('button', { name: /^Take back: .* never for / }).click()
  await goWithin(page, TALLY)
  await expect.poll(() => short(page)).toBe(before)

  const pin = choices.getByRole('button', { name: 'Pin' })
  await pin.first().click()
  await page.getByRole('menuitem').first().click()
  await choose(page, 'Lines shown', 'pinned')
  await expect.poll(() => lines(page)).toBe(1)
  await expect(choices.getByRole('button', { name: 'Unpin' })).toBeVisible()
})

test('a pin that has become impossible is reported, not dropped', async ({ page }) => {
  await openDemo(page, `${TALLY}?show=shelf`)
  await page.getByRole('region', { name: 'Choices' }).getByRole('button', { name: 'Pin' }).first().click()
  // The largest remainder on the shelf: the donors' stages are named with their stage.
  await page.getByRole('menuitem').filter({ hasNotText: 'stage' }).first().click()
  await choose(page, 'Lines shown', 'pinned')
  await expect.poll(() => lines(page)).toBe(1)
  await goWithin(page, `${BUILD}/brief`)
  await choose(page, 'Pieces may come from', 'the donor boxes only')
  await expect(page.getByText('Pieces may come from donors', { exact: true })).toBeVisible()
  await goWithin(page, TALLY)
  const alert = page.getByRole('alert').filter({ hasText: 'A pin of' })
  await expect(alert).toContainText('holds for 0: the supply is gone, or the rules do not count it')
  await alert.getByRole('button', { name: 'Take it back' }).click()
  await expect(alert).toBeHidden()
})

test('the tally is told by module, item, colour and source; sums open to lines; what is shown is exported', async ({
  page,
}) => {
  await openDemo(page, TALLY)
  const all = await short(page)
  for (const by of ['module', 'item', 'colour']) {
    await page.getByRole('button', { name: `By ${by}`, exact: true }).click()
    const download = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Export' }).click()
    await page.getByRole('menuitem', { name: 'What is shown, as CSV' }).click()
    const rows = readFileSync(await (await download).path(), 'utf8')
      .trim()
      .split('\r\n')
      .slice(1)
    const sum = rows.reduce((n, row) => n + Number(row.split(',').at(-1)), 0)
    expect(sum).toBe(all)
  }
  await page.getByRole('complementary', { name: 'Sum' }).getByRole('button', { name: 'Open' }).first().click()
  await expect(page.getByRole('complementary', { name: 'Line' })).toBeVisible()
  await page.getByRole('button', { name: 'By source', exact: true }).click()
  const source = page.getByRole('complementary', { name: 'Source' })
  await expect(source).toContainText(/Fetch \d+ pieces? of \d+ items?/)
})

test('a list to fetch by warns of colours that are mixed up at the table', async ({ page }) => {
  await openDemo(page, `${TALLY}?by=source`)
  const source = page.getByRole('complementary', { name: 'Source' })
  await expect(source).toBeVisible()
  // Somewhere in the demo's drawers two colours lie side by side that are hard to tell apart.
  const note = source.getByText(/^Looks like /)
  await page.getByRole('grid').focus()
  for (let row = 0; row < 40 && (await note.count()) === 0; row++) await page.keyboard.press('ArrowDown')
  await expect(note.first()).toContainText(/^Looks like .+: compare by daylight\.$/)
  // The warning stands with the piece it is about, and names another colour than that piece has.
  const item = source
    .getByRole('listitem')
    .filter({ has: page.getByText(/^Looks like /) })
    .first()
  const [, other = ''] = /Looks like ([^,:]+)/.exec((await item.textContent()) ?? '') ?? []
  expect((await item.textContent())?.split('Looks like')[0]).not.toContain(other)
})

test('the Brief counts a module with all that is within it: those outside add up to the build', async ({ page }) => {
  await openDemo(page, `${BUILD}/brief`)
  const table = page.getByRole('table', { name: 'Modules and their coverage' })
  await expect(table).toBeVisible()
  const rows = await table.locator('tbody tr').evaluateAll((all) =>
    all.map((row) => {
      const cells = [...row.querySelectorAll('td')]
      const number = (at: number) => Number(cells[at]?.textContent?.replace(/\D/g, ''))
      return { inside: parseInt(cells[0]?.style.paddingLeft || '0', 10) > 0, pieces: number(2), short: number(4) }
    }),
  )
  const sum = (of: 'pieces' | 'short') => rows.reduce((n, row) => n + (row.inside ? 0 : row[of]), 0)
  expect(rows.some((row) => row.inside)).toBe(true)
  expect(sum('pieces')).toBe(await told(page, /^([\d\u202f]+) pieces/))
  expect(sum('short')).toBe(await told(page, /([\d\u202f]+) short/))
})

test('what would help a short line is worked out, ranked, and done', async ({ page }) => {
  await openDemo(page, `${TALLY}?show=short`)
  const before = await short(page)
  await page.getByRole('button', { name: 'What would help?' }).click()
  const help = page.getByRole('region', { name: 'What would help' })
  const act = help.getByRole('button', { name: /: do it$/ }).first()
  await expect(act).toBeVisible()
  const told = /in all \d+ → (\d+)/.exec((await help.getByRole('listitem').first().textContent()) ?? '')
  await help
    .getByRole('button', { name: /(colour|near).*: do it$/i })
    .first()
    .click()
  await expect.poll(() => short(page)).toBeLessThan(before)
  expect(Number(told?.[1])).toBeLessThan(before)
})

test('a rule of one’s own and splits bring stand-ins; the tally says its gap at once, and is proven when the solver is there', async ({
  page,
}) => {
  let arrive: () => void = () => undefined
  const solver = new Promise<void>((resolve) => {
    arrive = resolve
  })
  await page.context().route('**/*.wasm', async (route) => {
    await solver
    await route.continue()
  })
  await openDemo(page, `${BUILD}/brief`)
  const missing = async () => Number(/([\d\u202f]+) short/.exec((await headline(page).textContent()) ?? '')?.[1])
  const before = await missing()
  await choose(page, 'Splits', 'allowed anywhere but in structural lines')
  await expect.poll(missing).toBeLessThan(before)
  await goWithin(page, TALLY)
  await expect(page.getByText(/^Best so far, being proven: .*At most \d+ pieces? fewer could be short/)).toBeVisible()
  const open = await short(page)
  arrive()
  await expect(page.getByText(/^Proven best/)).toBeVisible()
  expect(await short(page)).toBeLessThanOrEqual(open)
  await goWithin(page, `${BUILD}/brief`)
  await page.getByLabel('One', { exact: true }).fill('no such part')
  await page.getByLabel('times').fill('plate 1x2')
  await page.getByRole('button', { name: 'Add the rule' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'no part of the catalogue' })).toBeVisible()
  await page.getByLabel('One', { exact: true }).fill('brick 2x4')
  await page.getByLabel('times').fill('brick 2x2')
  await page.getByRole('button', { name: 'Add the rule' }).click()
  await expect(page.locator('#main').getByText('One brick 2x4 = 2 × brick 2x2')).toBeVisible()
})

test('a module is seen as a sheet of pictures with counts, once or in all', async ({ page }) => {
  await openDemo(page, `${BUILD}/design?view=sheet`)
  const heading = page.getByRole('heading', { level: 2 })
  await expect(heading).toContainText(/1\u202f267 pieces of \d+ items/)
  await choose(page, 'Module of the sheet', 'Observatory drum')
  await expect(heading).toContainText(/^Observatory drum/)
  const counts = await page.locator('.sheet li b').allTextContents()
  const told = Number(/: (\d+) piece/.exec((await heading.textContent()) ?? '')?.[1])
  expect(counts.reduce((n, text) => n + parseInt(text, 10), 0)).toBe(told)
})
