import { expect, type Page } from '@playwright/test'
import {
  anyPlan,
  axeFinds,
  BUILD,
  choose,
  goWithin,
  grouped,
  headline,
  openDemo,
  proven,
  settled,
  SMALL_BUILD,
} from './demo.ts'
import { test } from './profile.ts'

/** Minor units of an amount as the screens write it. */
const minor = (text: string) => Math.round(Number(text.replace(/[^\d.-]/g, '')) * 100)

/** The points of a rule, as its table tells them: the value, the money, what is proven. */
const pointsOf = async (page: Page, rule: string) => {
  const rows = page.getByRole('region', { name: rule }).locator('tbody tr')
  return rows.evaluateAll((all) =>
    all.map((row) => ({
      limit: Number(/\d+/.exec(row.querySelector('th')?.textContent ?? '')?.[0]),
      cost: row.querySelector('td b')?.textContent ?? '',
      proof: row.querySelector('td span')?.textContent ?? '',
    })),
  )
}

test('what it costs to have all sooner is drawn, and a point is kept with its rule in one act', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  const before = await proven(page)
  const sooner = page.getByRole('region', { name: 'Sooner' })
  await sooner.getByRole('button', { name: 'What does it cost to have all sooner?' }).click()
  await expect(sooner.getByText(/sooner, \d+ instead of \d+, (costs|saves) [\d.]+/).first()).toBeVisible()
  await expect(sooner.getByRole('img')).toBeVisible()
  const points = await pointsOf(page, 'Sooner')
  expect(points.length).toBeGreaterThan(1)
  const limits = points.map((p) => p.limit)
  expect(limits).toEqual([...limits].sort((p, q) => q - p))
  expect(await axeFinds(page)).toEqual([])

  const { limit = 0, cost = '', proof = '' } = points.at(-1) ?? {}
  await sooner
    .getByRole('button', { name: /^Keep within/ })
    .last()
    .click()
  await expect(page.getByText(`, within ${limit} days.`)).toBeVisible()
  // What was drawn is of the same problem still, and marks the point that is kept now; a reload does not lose it.
  await expect(sooner.getByRole('row').filter({ hasText: 'kept' })).toContainText(String(limit))
  expect(minor((await headline(page).textContent())?.split(' in ')[0] ?? '')).toBe(minor(cost))
  // It answers the build as it is now: not old, and with the proof of the tighter problem.
  await expect(headline(page)).toContainText(proof === 'proven' ? 'proven, nothing within the rules' : proof)
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText(before)
  await expect(page.getByText(`, within ${limit} days.`)).toBeHidden()
})

test('what each number of donor copies comes to is told, kept across a reload, and one is kept as the plan', async ({
  page,
}) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await proven(page)
  const copies = page.getByRole('region', { name: 'Donor copies' })
  await copies.getByRole('button', { name: 'What does each number of copies come to?' }).click()
  await expect(copies.getByText(/costs least/).first()).toBeVisible()
  const rows = copies.locator('tbody tr')
  // Every number of the two that are wanted, and with each two more of the one that is not second hand.
  await expect(rows).toHaveCount(8)
  // Its figure decides: at nothing for leftovers one copy is enough.
  await expect(copies.getByText(/It does not hold if leftovers bring nothing/)).toBeVisible()
  await expect(rows.filter({ hasText: 'sold whole: 2 × Lamplighter Juno' }).first()).toBeVisible()
  // Up front and the three views of what leftovers bring: the more they bring, the less it costs.
  const table = await rows.evaluateAll((all) =>
    all.map((row) => [...row.querySelectorAll('td')].slice(0, 4).map((td) => td.textContent ?? '')),
  )
  for (const [outlay = '', nothing = '', likely = '', hoped = ''] of table) {
    expect(minor(nothing)).toBe(minor(outlay))
    expect(minor(likely)).toBeLessThanOrEqual(minor(nothing))
    expect(minor(hoped)).toBeLessThanOrEqual(minor(likely))
  }
  const told = await rows.allTextContents()
  await page.reload()
  await expect(rows).toHaveCount(8)
  expect(await rows.allTextContents()).toEqual(told)
  expect(await axeFinds(page)).toEqual([])

  // Three of which one is wanted: the others are wanted from now on.
  const three = rows.filter({ has: page.getByRole('button', { name: /^Keep 3 × [^×]*$/ }) })
  await three.getByRole('button').click()
  await expect(headline(page)).toContainText('3 donor copies')
  await expect(rows.filter({ hasText: /^3 × [^×]*proven/ })).toContainText(/kept$/)
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).not.toContainText('3 donor copies')
})

test('duty and tax by one’s own rates are weighed, and the bill says them', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/brief`)
  const levies = page.getByRole('group', { name: 'Duty and tax', exact: true })
  await levies.getByRole('button', { name: 'Add a rate' }).click()
  const rate = levies.getByLabel('Rate, %')
  await rate.fill('a fifth')
  await rate.press('Enter')
  await expect(levies.getByRole('alert')).toContainText('A percentage from 0 to 100')
  await rate.fill('20')
  await rate.press('Enter')
  await expect(levies.getByLabel('Rate, %')).toHaveValue('20')
  await goWithin(page, `${SMALL_BUILD}/buy`)
  await proven(page)
  // Nearly all shops of the market are abroad.
  await expect(page.getByRole('rowheader', { name: 'duty and tax, your rates' })).toBeVisible()
  await expect(page.getByText('what is due is for the customs authority to say')).toBeVisible()
})

test('what each rule costs is told, and a looser one is applied with the plan that it allows', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  const before = await proven(page)
  const rules = page.getByRole('region', { name: 'What the rules cost' })
  await rules.getByRole('button', { name: 'What does each rule cost?' }).click()
  // Worn pieces are cheaper in shops.
  const apply = page.getByRole('button', { name: 'Apply: Allow worn pieces everywhere' })
  await expect(apply).toBeEnabled()
  await expect(rules.getByRole('listitem').filter({ has: apply })).toContainText(/saves [\d.]+ EUR/)
  await expect(rules.getByRole('heading', { name: 'Stricter' })).toBeVisible()
  await apply.click()
  const cost = async () => minor((await headline(page).textContent())?.split(' in ')[0] ?? '')
  await expect.poll(cost).toBeLessThan(minor(before.split(' in ')[0] ?? ''))
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText(before)
})

test('a few more of what is hard to order again are told with their price, and ordered by one act', async ({
  page,
}) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  const before = await proven(page)
  const more = page.getByRole('region', { name: 'A few more' })
  await more.getByRole('checkbox', { name: 'Round numbers as well' }).click()
  const first = more
    .getByRole('listitem')
    .filter({ hasText: /more costs? [\d.]+ EUR/ })
    .first()
  const [, said = ''] = /more costs? ([\d.]+) EUR/.exec((await first.textContent()) ?? '') ?? []
  await first.getByRole('button', { name: /^Order \d+ more of / }).click()
  const cost = async () => minor((await headline(page).textContent())?.split(' in ')[0] ?? '')
  await expect.poll(cost).toBe(minor(before.split(' in ')[0] ?? '') + minor(said))
  // What was proven of the least stays: it says how far above that it is now.
  await expect(headline(page)).toContainText(/at most [\d.]+% above the least possible/)
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText(before)
})

test('scenarios are written, compared on the same offers, and one becomes the build’s', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await proven(page)
  const scenarios = page.getByRole('region', { name: 'Scenarios' })
  await scenarios.getByRole('button', { name: 'New scenario' }).click()
  await scenarios.getByRole('button', { name: 'Remove Scenario 1' }).click()
  await expect(scenarios.locator('summary', { hasText: 'Scenario 1' })).toBeHidden()
  await scenarios.getByRole('button', { name: 'New scenario' }).click()
  const name = scenarios.getByRole('group', { name: 'Scenario 1' }).getByLabel('Name')
  await expect(name).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('No roof')
  await page.keyboard.press('Enter')
  await expect(scenarios.getByText('No roof as the build is')).toBeVisible()
  // What comes later above the scenarios moves a list that is open out of sight.
  await settled(page, 300)
  const change = scenarios.getByRole('group', { name: 'No roof' }).getByRole('combobox', { name: 'Add a change of' })
  await change.click()
  await page.getByRole('option', { name: 'Module', exact: true }).click()
  await choose(page, 'Which, in No roof', 'Roof: put off')
  await expect(scenarios.getByText('Roof: put off').first()).toBeVisible()
  await change.click()
  await page.getByRole('option', { name: 'Orders at most' }).click()
  await scenarios.getByLabel('Orders at most, in No roof').fill('5')
  await scenarios.getByLabel('Orders at most, in No roof').press('Enter')
  await expect(scenarios.getByText('Orders at most: 5; Roof: put off')).toBeVisible()

  await scenarios.getByRole('button', { name: 'Compare them' }).click()
  const make = scenarios.getByRole('button', { name: 'Make No roof the build’s' })
  await expect(make).toBeEnabled()
  const table = scenarios.getByRole('table', { name: 'Figures of the scenarios' })
  const figures = await table
    .locator('tbody tr')
    .evaluateAll((rows) =>
      Object.fromEntries(
        rows.map((row) => [
          row.querySelector('th')?.textContent ?? '',
          [...row.querySelectorAll('td')].map((td) => Number((td.textContent ?? '').replace(/[^\d.-]/g, ''))),
        ]),
      ),
    )
  const [asItIs = 0, noRoof = 0] = figures['Pieces needed'] ?? []
  expect(noRoof).toBeLessThan(asItIs)
  expect(figures['Orders']?.[1]).toBeLessThanOrEqual(5)
  // What is paid up front is its parts, to the cent.
  for (const i of [0, 1]) {
    const part = (name: string) => Math.round((figures[name]?.[i] ?? 0) * 100)
    const parts = ['Goods', 'Shipping', 'Fees', 'Duty and tax', 'Donor copies', 'Prints'].map(part)
    expect(parts.reduce((sum, p) => sum + p, 0)).toBe(part('Up front'))
    expect(part('Up front') + part('Resale, likely')).toBe(part('Net'))
  }
  expect(await axeFinds(page)).toEqual([])
  await page.reload()
  await expect(make).toBeEnabled()

  await make.click()
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await expect(page.getByRole('link', { name: /^Design/ })).toContainText(grouped(noRoof))
  await expect(page.getByText('At most 5 may be ordered from')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(page.getByText('At most 6 may be ordered from')).toBeVisible()
  await expect(page.getByRole('link', { name: /^Design/ })).toContainText(grouped(asItIs))
})

test('a scenario whose version is gone says so where it is written, and loses nothing', async ({ page }) => {
  await openDemo(page, `${BUILD}/buy`)
  const scenarios = page.getByRole('region', { name: 'Scenarios' })
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await scenarios.getByRole('button', { name: 'New scenario' }).click()
  await scenarios.getByRole('group', { name: 'Scenario 4' }).getByRole('combobox', { name: 'Add a change of' }).click()
  await page.getByRole('option', { name: 'Design version or colourway' }).click()
  await choose(page, /^Which, in Scenario/, /^Version: /)
  const written = scenarios.locator('summary', { hasText: 'Scenario 4' })
  await expect(written).toContainText('Design: ')
  await goWithin(page, `${BUILD}/design?view=versions`)
  await page
    .getByRole('list', { name: 'Versions' })
    .getByRole('button', { name: /^Remove / })
    .first()
    .click()
  await goWithin(page, `${BUILD}/buy`)
  await expect(scenarios.getByRole('alert')).toContainText('is gone. Take that change out, or choose another.')
  await expect(written).toContainText('a version that is gone')
  await written.click()
  await scenarios.getByRole('button', { name: /^Take out: Design/ }).click()
  await expect(scenarios.getByRole('alert')).toBeHidden()
})

test('a day passes on the market: what became of the plan’s offers is told, and it is repaired with few changes', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/buy`)
  await anyPlan(page)
  const before = await headline(page).textContent()
  const since = page.getByRole('region', { name: 'Offers since' })
  // Day by day until something of the plan has changed; each time its offers are waited for, and what is said of them.
  const changed = since.getByText(/Of the \d+ offers of the kept plan .*(gone|too few left)/)
  for (let days = 0; days < 12 && !(await changed.isVisible()); days++) {
    const answered = page.waitForResponse((response) => response.url().endsWith('/api/market/offers'))
    await page.getByRole('button', { name: 'Let a day pass' }).click()
    await answered
    await expect(page.getByRole('button', { name: 'Let a day pass' })).toBeEnabled()
    await settled(page, 700)
  }
  await expect(changed).toBeVisible()
  await expect(headline(page)).toContainText('older than the build or the offers')
  const [, all = '0'] = /Of the (\d+) offers/.exec((await since.textContent()) ?? '') ?? []
  await since.getByRole('button', { name: 'Repair with as few changes as possible' }).click()
  const repaired = page.getByRole('region', { name: 'What the repair changed' })
  await expect(repaired).toContainText('Repaired with as few changes as')
  // A few of the plan's offers, not most of it.
  expect(await repaired.getByRole('listitem').count()).toBeLessThan(Number(all) / 2)
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  expect(await axeFinds(page)).toEqual([])
  await page.keyboard.press('Control+z')
  await expect(since).toBeVisible()
  expect((await headline(page).textContent())?.split(',')[0]?.split(' in ')[0]).toBe(before?.split(' in ')[0])
})

test('what is rare is told on Design, and on Buy what it really costs and what would avoid it', async ({ page }) => {
  await openDemo(page, `${BUILD}/buy`)
  await anyPlan(page)
  await goWithin(page, `${BUILD}/design`)
  await expect(page.getByText(/^Hard to buy, by the offers known: .*one shop alone has/)).toBeVisible()
  await page.getByRole('link', { name: 'Which, and what would avoid them' }).click()
  const rare = page.getByRole('region', { name: 'Rare and dear' })
  await expect(rare).toBeInViewport()
  await choose(page, 'Good enough', 'or good to 6%')
  await rare.getByRole('button', { name: 'What do they really cost, and what would avoid them?' }).click()
  await expect(rare.getByRole('status')).toContainText(/; [3-9] of \d+ done/)
  await rare.getByRole('button', { name: 'Stop, keep what is found' }).click()
  await expect(rare.getByText(/It really costs [\d.]+ EUR/).first()).toBeVisible()
  expect(await axeFinds(page)).toEqual([])
  // A hint becomes a scenario, to be compared with others.
  await rare
    .getByRole('button', { name: /^Compare as a scenario: Leave out/ })
    .first()
    .click()
  await expect(
    page.getByRole('region', { name: 'Scenarios' }).locator('summary', { hasText: 'Leave out' }),
  ).toBeVisible()
  const short = await page.getByRole('link', { name: /^Tally/ }).textContent()
  await rare
    .getByRole('button', { name: /^Apply: Leave out/ })
    .first()
    .click()
  await expect(page.getByRole('link', { name: /^Tally/ })).not.toHaveText(short ?? '')
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('link', { name: /^Tally/ })).toHaveText(short ?? '')
})
