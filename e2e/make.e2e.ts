import { writeFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { axeFinds, choose, goWithin, headline, itemAt, openDemo, settled, startBuild } from './demo.ts'
import { slowness } from './machine.ts'
import { test } from './profile.ts'

const VALLEY = '/build/b-valley-station'
const CANOPY = `${VALLEY}/make?view=build&work=m-valley-canopy&repeat=3`
const HALL = `${VALLEY}/make?view=build&work=m-valley-hall&repeat=1`

/** Pieces that the rail's strip says are short. */
const short = async (page: Page): Promise<number> => {
  const strip = page.getByRole('navigation', { name: 'Main' }).getByRole('img', { name: /^Coverage/ })
  return Number(/(\d+) short/.exec((await strip.getAttribute('aria-label')) ?? '')?.[1] ?? 0)
}
const lines = (page: Page) => page.getByRole('list', { name: 'Lines of this repeat' }).getByRole('listitem')
const said = (page: Page) => page.getByRole('status').filter({ hasText: ' in' }).first()

test('a repeat is built by keys alone: its pieces leave the box, and undone they are back in it', async ({ page }) => {
  await openDemo(page, CANOPY)
  await expect(said(page)).toContainText('0 of 5 pieces in')
  const before = await short(page)
  await lines(page).first().locator('[data-tick]').focus()
  await page.keyboard.press('Space')
  await expect(said(page)).toContainText('2 of 5 pieces in')
  for (const sum of ['3', '4', '5']) {
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('Enter')
    await expect(said(page)).toContainText(`${sum} of 5 pieces in`)
  }
  await expect(said(page)).toContainText('This one is done')
  await expect(headline(page)).toContainText('111 of 153')
  expect(await short(page)).toBe(before)
  await goWithin(page, `${VALLEY}/donors`)
  await page.getByText('Cable railway halt, standing built').first().click()
  await expect(page.getByText(/111 more are in a model that is being built/)).toBeVisible()
  // A reload keeps it; undo takes the last tick back, to the box it came from.
  await page.goto(CANOPY)
  await expect(said(page)).toContainText('5 of 5 pieces in')
  await page.keyboard.press('Control+z')
  await expect(said(page)).toContainText('4 of 5 pieces in')
  // One out of a line of two, and in again; what is on the way there is never more than the line needs.
  await page.getByRole('button', { name: /^One bar 6 long.* out$/ }).click()
  await expect(lines(page).first()).toContainText('1 / 2')
  await page.getByRole('button', { name: /^One more bar 6 long.* in$/ }).click()
  await expect(page.getByRole('button', { name: /^One more bar 6 long.* in$/ })).toBeDisabled()
})

test('the missing stone: every way out with its cost, one of them taken', async ({ page }) => {
  await openDemo(page, HALL)
  expect(await short(page)).toBe(1)
  const stone = lines(page).filter({ hasText: 'brick 1x2' })
  await expect(stone).toContainText('the count has none of it')
  await stone.locator('[data-tick]').focus()
  await page.keyboard.press('a')
  const ways = page.getByRole('list', { name: 'Ways out' })
  await expect(ways.getByText('On the shelf')).toBeVisible()
  await expect(ways.getByText('Buy', { exact: true })).toBeVisible()
  await ways
    .getByRole('listitem')
    .filter({ hasText: 'On the shelf' })
    .first()
    .getByRole('button', { name: 'Use it all the same' })
    .click()
  await expect(said(page)).toContainText('52 of 52 pieces in')
  await expect.poll(() => short(page)).toBe(0)
  await page.keyboard.press('Control+z')
  await expect.poll(() => short(page)).toBe(1)
  // Or the design is corrected: the line asks for one less.
  await page.getByRole('button', { name: /^Something is amiss with brick 1x2/ }).click()
  await ways.getByRole('button', { name: 'Correct the design' }).click()
  await expect(said(page)).toContainText('51 of 51 pieces in')
  await page.keyboard.press('Control+z')
  // Or it is left out on purpose, and why is kept.
  await page.getByRole('button', { name: /^Something is amiss with brick 1x2/ }).click()
  await page.getByRole('button', { name: 'It goes otherwise' }).click()
  await page.getByRole('textbox', { name: 'Why', exact: true }).fill('behind the bench')
  await page.getByRole('button', { name: 'Leave 1 out' }).click()
  await expect(said(page)).toContainText('51 of 52 pieces in, 1 left out on purpose. This one is done.')
  await expect(page.getByRole('region', { name: 'Exceptions' })).toContainText('behind the bench')
  await expect.poll(() => short(page)).toBe(0)
})

test('a piece that is in breaks: kept for a hidden use, and another goes in', async ({ page }) => {
  await openDemo(page, `${VALLEY}/make?view=build&work=m-valley-cabin&repeat=1`)
  await expect(said(page)).toContainText('25 of 25 pieces in')
  await page.getByRole('button', { name: /^Something is amiss with panel 1x4/ }).click()
  await page.getByRole('button', { name: 'Broken' }).click()
  await page.getByLabel('Keep it as worn, for where it is hidden').click()
  await page
    .getByRole('list', { name: 'Ways out' })
    .getByRole('listitem')
    .filter({ hasText: 'Left over' })
    .getByRole('button')
    .click()
  await expect(said(page)).toContainText('25 of 25 pieces in')
  await goWithin(page, '/shelf')
  await page.getByRole('list', { name: 'Places' }).getByText('Out of models').click()
  await expect(page.getByRole('gridcell', { name: /panel 1x4/ })).toBeVisible()
  await expect(page.getByRole('row').filter({ hasText: 'panel 1x4' })).toContainText('worn')
})

test('a donor that stands: what stays is booked, what comes off is ticked, and undone it is whole again', async ({
  page,
}) => {
  await openDemo(page, `${VALLEY}/make?view=apart`)
  const copy = page.getByRole('region', { name: 'Cable railway halt, standing built' })
  await expect(copy).toContainText('2 of 4 stages changed')
  await copy.getByRole('button', { name: 'Keep 26 in place' }).click()
  await expect(copy.getByRole('button', { name: '26 stay, booked' })).toBeDisabled()
  await copy.getByRole('button', { name: 'All 2 taken off' }).click()
  await expect(copy).toContainText('2 of 4 stages changed')
  await copy.getByRole('button', { name: 'Turn it' }).click()
  await expect(copy).toContainText('3 of 4 stages changed')
  await expect(headline(page)).toContainText('132 of 153')
  await expect(copy).toContainText('On the heap: 50 pieces')
  const bench = copy.getByRole('list', { name: 'To take off Waiting hall' }).getByRole('checkbox').first()
  await bench.click()
  await expect(bench).toBeChecked()
  await expect(copy).toContainText('On the heap: 54 pieces')
  await bench.click()
  await expect(copy).toContainText('On the heap: 50 pieces')
  await copy.getByRole('button', { name: 'Put it back as it was' }).click()
  await expect(headline(page)).toContainText('0 of 153')
  await expect(copy).toContainText('0 of 4 stages changed')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toContainText('132 of 153')
  // On paper it is a list to tick with a pencil.
  await page.emulateMedia({ media: 'print' })
  await expect(copy.getByText('taken off and not used again')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Put it back as it was' })).toBeHidden()
})

test('the planted swap: named, where it was made and what it starves; accepted it changes the count', async ({
  page,
}) => {
  await openDemo(page, `${VALLEY}/make?view=swaps`)
  const likeliest = page.getByRole('region', { name: 'Explanation 1' })
  await expect(likeliest).toContainText('In Valley station (100 %)')
  await expect(likeliest).toContainText('Sign on the road will lack 1 piece of it')
  await likeliest.getByRole('button', { name: 'Accept it there' }).click()
  await expect(likeliest).toBeHidden()
  // The sign lacks a stripe now; a band is free.
  await expect.poll(() => short(page)).toBe(2)
  await goWithin(page, `${VALLEY}/make?view=remarks`)
  await expect(page.getByRole('region', { name: 'As built' })).toContainText('in place of tile 1x2, Hayfield')
  await page.getByRole('button', { name: 'Make it the design, 1 line changes' }).click()
  await expect(page.getByRole('region', { name: 'As built' })).toContainText('Everything that is in is as drawn')
  await goWithin(page, `${VALLEY}/design?view=versions`)
  await expect(page.getByText(/^As drawn, before/).first()).toBeVisible()
  // Counted by hand: one piece more that nothing explains was forgotten.
  await goWithin(page, `${VALLEY}/make?view=swaps`)
  const band = page.getByLabel('Counted of tile 1x2, hayfield')
  await band.fill('2')
  await band.press('Enter')
  await expect(page.getByRole('region', { name: 'Explanation 1' })).toContainText('1 piece forgotten')
})

test('a try that failed gives its pieces back; the timer is mended; what overlaps is named', async ({ page }) => {
  await openDemo(page, `${VALLEY}/make?view=build&work=m-valley-sign&repeat=1`)
  await lines(page).first().locator('[data-tick]').click()
  await expect(said(page)).toContainText('6 of 10 pieces in')
  await page.getByText('Tried and failed').last().click()
  await page.getByLabel('Minutes it took').fill('20')
  await page.getByLabel('Minutes it took').press('Enter')
  await page.getByLabel('Why it failed').fill('the arm droops')
  await page.getByRole('button', { name: 'Note it, 6 pieces go back' }).click()
  await expect(said(page)).toContainText('0 of 10 pieces in')
  await expect(page.getByRole('region', { name: 'Exceptions' })).toContainText('the arm droops')
  await page.getByRole('button', { name: 'Write a time' }).click()
  const times = page.getByRole('dialog', { name: 'Times' })
  await times.getByLabel('Minutes').fill('30')
  await times.getByLabel('Minutes').press('Enter')
  await expect(times.getByText('30 min', { exact: true })).toBeVisible()
  await times.getByLabel('Minutes').fill('45')
  await times.getByLabel('Minutes').press('Enter')
  await expect(page.getByText(/is written for it already: change one of the two/)).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Start' }).click()
  await page.getByRole('button', { name: /^Stop/ }).click()
  await expect(page.getByRole('button', { name: '30 min so far' })).toBeVisible()
  await goWithin(page, `${VALLEY}/make`)
  await expect(page.getByRole('region', { name: 'Time', exact: true })).toContainText('55 min on tries that failed')
})

test('what lies below stays where it is while a tick is written and counted', async ({ page }) => {
  await openDemo(page, CANOPY)
  await expect(lines(page).nth(3)).toBeVisible()
  await page.evaluate(() => {
    const tops = new Set<number>()
    Object.assign(window, { tops })
    const look = () => {
      const last = document.querySelectorAll('[aria-label="Lines of this repeat"] > li')[3]
      if (last) tops.add(Math.round(last.getBoundingClientRect().top))
      requestAnimationFrame(look)
    }
    look()
  })
  await lines(page).nth(0).locator('[data-tick]').click()
  await expect(said(page)).toContainText(/^[1-5] of 5 pieces in/)
  await expect(page.getByText('Counting again')).toBeHidden()
  await page.waitForTimeout(300)
  expect(await page.evaluate(() => [...(window as unknown as { tops: Set<number> }).tops])).toHaveLength(1)
})

test('fetch: ticks stay, the list and the labels are for paper', async ({ page }) => {
  await openDemo(page, `${VALLEY}/make?view=fetch`)
  const first = page.getByRole('list', { name: 'To fetch' }).getByRole('checkbox').first()
  await first.click()
  await expect(page.getByText(/^[1-9]\d* of \d+ pieces fetched/)).toBeVisible()
  await page.reload()
  await expect(first).toBeChecked()
  await choose(page, 'What to fetch for', 'all of Canopy bay')
  await choose(page, 'In which order', 'by module')
  await expect(page.getByRole('heading', { name: 'Canopy bay' })).toBeVisible()
  expect((await page.pdf({ format: 'A4' })).byteLength).toBeGreaterThan(10_000)
  await page.getByRole('button', { name: 'Labels' }).click()
  const dialog = page.getByRole('dialog', { name: 'Labels' })
  // A label is as large as it says, at 96 pixels an inch (CSS Values and Units).
  const box = await dialog.getByRole('list', { name: 'Labels, sheet 1' }).getByRole('listitem').first().boundingBox()
  const mm = (px: number) => (px / 96) * 25.4
  const stated = /of ([\d.]+) × ([\d.]+) mm/.exec((await dialog.textContent()) ?? '')
  expect(Math.abs(mm(box?.width ?? 0) - Number(stated?.[1]))).toBeLessThan(0.3)
  expect(Math.abs(mm(box?.height ?? 0) - Number(stated?.[2]))).toBeLessThan(0.3)
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('list', { name: 'To fetch' })).toBeHidden()
  // On a sheet of 210 mm with 8 mm left free on both sides the labels of a row stand beside one another, none cut off.
  await page.setViewportSize({ width: Math.floor((194 / 25.4) * 96) + 1, height: 1062 })
  const across = await dialog
    .getByRole('list', { name: 'Labels, sheet 1' })
    .getByRole('listitem')
    .evaluateAll((labels) => labels.slice(0, 3).map((l) => l.getBoundingClientRect()))
  expect(new Set(across.map((r) => r.top)).size).toBe(1)
  expect(across.at(-1)?.right).toBeLessThanOrEqual(Math.floor((194 / 25.4) * 96) + 1)
  expect(across[0]?.left).toBeGreaterThanOrEqual(0)
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.emulateMedia({ media: 'screen' })
  // What has been fetched goes in from the table.
  await page.keyboard.press('Escape')
  await goWithin(page, CANOPY)
  for (let n = 0; n < 4; n++) await lines(page).nth(n).locator('[data-tick]').click()
  await expect(said(page)).toContainText('5 of 5 pieces in')
  await goWithin(page, `${VALLEY}/make?view=fetch&for=all`)
  await expect(page.getByText(/^0 of \d+ pieces fetched/)).toBeVisible()
})

test('sort: the ways beside one another, one’s own rate, and helpers', async ({ page }) => {
  await openDemo(page, '/build/b-observatory/make?view=sort')
  const ways = page.getByRole('table', { name: 'Ways to sort' })
  await expect(ways.getByRole('row')).toHaveCount(5)
  await expect(ways).toContainText('soonest')
  const piles = page.getByRole('list', { name: 'Piles' })
  await expect(piles).toContainText('Big pieces')
  await page.getByLabel('Piles at most').fill('12')
  await page.getByLabel('Piles at most').press('Enter')
  await expect.poll(() => piles.getByRole('listitem').count()).toBeLessThanOrEqual(12)
  await page.getByLabel('I sorted pieces').fill('700')
  await page.getByLabel('in minutes').fill('20')
  await page.getByLabel('in minutes').press('Enter')
  await expect(page.getByText(/by 2 timed sortings of yours/)).toBeVisible()
  await page.getByLabel('People', { exact: true }).fill('2')
  await page.getByLabel('People', { exact: true }).press('Enter')
  await expect(page.getByRole('region', { name: 'For helpers' })).toBeVisible()
  await page.getByRole('button', { name: 'Show the piles by colour' }).click()
  await expect(page.getByRole('heading', { name: /^By colour: \d+ piles/ })).toBeVisible()
})

test('finished it is a model on the shelf; taken apart, its repeats are to be built again', async ({ page }) => {
  await openDemo(page, `${VALLEY}/make`)
  await page.getByRole('button', { name: 'Finish the model' }).click()
  await page.getByRole('dialog').getByLabel('What it is called').fill('Valley station, first half')
  await page.getByRole('dialog').getByRole('button', { name: 'Finish it' }).click()
  await goWithin(page, '/shelf')
  await page.getByRole('list', { name: 'Places' }).getByText('Valley station, first half').click()
  await expect(page.getByRole('gridcell', { name: /brick 1x4/ })).toBeVisible()
  await goWithin(page, `${VALLEY}/make?view=apart`)
  await expect(headline(page)).toContainText('106 of 153')
  await page.getByRole('region', { name: 'Models' }).getByRole('button', { name: 'Take it apart' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Lost').first().fill('1')
  await dialog.getByLabel('Lost').first().press('Enter')
  await dialog.getByRole('button', { name: 'It is apart' }).click()
  await expect(headline(page)).toContainText('0 of 153')
})

test('a built cabin moves to another build with its pieces', async ({ page }) => {
  await openDemo(page, `${VALLEY}/make?view=build&work=m-valley-cabin&repeat=1`)
  await choose(page, 'The build that it moves to', /^Weather station/)
  await page.getByRole('button', { name: 'Move it to' }).click()
  await expect(said(page)).toContainText('0 of 25 pieces in')
  await goWithin(page, '/build/b-weather-station/make')
  await expect(page.getByRole('row', { name: /^Funicular cabin/ })).toContainText('1 of 1')
})

test('at the table: 900 × 600 by touch, targets of 44 px, nothing cut off, also without a network', async ({
  page,
  context,
}) => {
  await page.setViewportSize({ width: 900, height: 600 })
  await openDemo(page, CANOPY)
  for (const view of ['next', 'apart', 'sort', 'fetch', 'build', 'swaps', 'remarks']) {
    await goWithin(page, `${VALLEY}/make?view=${view}`)
    await settled(page)
    const small = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('.at-table :is(button, [role=combobox], summary)')].flatMap((el) => {
        const { width, height } = el.getBoundingClientRect()
        // Ticks take what is around them too: a tap lands on the box or its words.
        if (width === 0 || el.getAttribute('role') === 'checkbox') return []
        return width < 43.5 || height < 43.5 ? [`${el.textContent} ${width} ${height}`] : []
      }),
    )
    expect([view, small]).toEqual([view, []])
    const wide = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
    expect([view, wide]).toEqual([view, 0])
  }
  await goWithin(page, CANOPY)
  await context.setOffline(true)
  await lines(page).first().locator('[data-tick]').click()
  await expect(said(page)).toContainText('2 of 5 pieces in')
  await context.setOffline(false)
  await page.getByRole('button', { name: /^Something is amiss with plate 2x8/ }).click()
  await expect(page.getByRole('list', { name: 'Ways out' })).toBeVisible()
  expect(await axeFinds(page)).toEqual([])
})

test('an empty build says how to begin; odd modules are built one by one', async ({ page }) => {
  const build = await startBuild(page, 'Nothing yet')
  await goWithin(page, `${build}/make`)
  await expect(headline(page)).toHaveText('Nothing is designed yet: there is nothing to build.')
  for (const view of ['apart', 'sort', 'fetch', 'build', 'swaps', 'remarks']) {
    await goWithin(page, `${build}/make?view=${view}`)
    await expect(headline(page)).toContainText('Nothing is designed yet')
  }
})

test('a tick is there at once: a shelf of 20,000 holdings, a module of 3,000 lines', async ({ page }) => {
  const csv = (rows: readonly string[], heads: string) => [heads, ...rows].join('\n')
  await page.goto('/shelf')
  const bring = async (open: string, name: string, text: string) => {
    await page.getByRole('button', { name: open }).click()
    const file = test.info().outputPath(name)
    writeFileSync(file, text)
    await page.getByLabel('List file').setInputFiles(file)
    await page.getByRole('button', { name: /^Import [\d\s]+ rows$/ }).click()
    await expect(page.getByRole('dialog')).toBeHidden()
  }
  const rows = (n: number, of: (i: number) => string) => Array.from({ length: n }, (_, i) => of(i))
  await bring(
    'Import a shelf list',
    'shelf.csv',
    csv(
      rows(20_000, (i) => `${itemAt(i)},${(i % 30) + 1},Bin ${i % 200}`),
      'part,colour,quantity,place',
    ),
  )
  const build = await startBuild(page, 'Great wall')
  await goWithin(page, `${build}/design`)
  await bring(
    'Import a parts list',
    'design.csv',
    csv(
      rows(3000, (i) => `${itemAt((i * 7) % 20_000)},1,Wall`),
      'part,colour,quantity,module',
    ),
  )
  await goWithin(page, `${build}/make?view=build`)
  await expect(lines(page).first()).toBeVisible()
  await settled(page, 500)
  const slow = await slowness(page)
  const times = await page.evaluate(async () => {
    const taken: number[] = []
    for (let n = 0; n < 40; n++) {
      // Only lines in sight are drawn: the next that is open is scrolled to.
      const tick = [...document.querySelectorAll<HTMLElement>('[data-tick]')].find((t) =>
        t.getAttribute('aria-label')?.startsWith('Put in'),
      )
      if (!tick) break
      tick.scrollIntoView()
      await new Promise((r) => setTimeout(r, 100))
      const label = tick.getAttribute('aria-label')
      const started = performance.now()
      tick.click()
      while (tick.getAttribute('aria-label') === label && performance.now() - started < 5000)
        await new Promise((r) => setTimeout(r, 1))
      taken.push(performance.now() - started)
      await new Promise((r) => setTimeout(r, 200))
    }
    return taken
  })
  const slower = await slowness(page, slow)
  // Presses show at once and are written one after the other, however slow that is.
  await expect(said(page)).toContainText(`${times.length} of`)
  times.sort((p, q) => p - q)
  const at = (share: number) => times[Math.min(times.length - 1, Math.floor(times.length * share))] ?? NaN
  console.log(`a tick among 20,000 holdings: median ${Math.round(at(0.5))} ms, p95 ${Math.round(at(0.95))} ms`)
  // The aim is 50 ms at p95; another test runs beside.
  expect(times.length).toBe(40)
  expect(at(0.5) / slower).toBeLessThan(200)
})
