import { expect } from '@playwright/test'
import { axeFinds, BUILD, choose, goWithin, headline, openDemo, SMALL_BUILD } from './demo.ts'
import { test } from './profile.ts'

const cents = (text: string | null) => Math.round(Number((text ?? '').replace(/[^\d.-]/g, '')) * 100)

test('two builds are bought for together: what that saves, what each bears, and whose each piece is', async ({
  page,
}) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await page.getByRole('link', { name: 'what does buying together save?' }).click()
  // The kiosk buys as well; its few pieces are left out here.
  await page.getByRole('checkbox', { name: /^Yard kiosk/ }).click()
  await expect(page.getByRole('checkbox', { checked: true })).toHaveCount(2)
  // Builds that use nothing but their donors are none to buy for.
  await expect(page.getByText('its house rules allow no purchases')).toHaveCount(2)
  const offers = page.getByText(/usable offers\.$/)
  const few = await offers.textContent()
  await page.getByRole('button', { name: 'Ask the market for all of them' }).click()
  await expect(offers).not.toHaveText(few ?? '')
  // The observatory comes first: what it uses of the shelf the winch house does not count on.
  await page.getByRole('button', { name: /^Put Mountain observatory .* before Winch house/ }).click()
  await choose(page, 'Time limit', 'at most 10 s')
  await page.getByRole('button', { name: 'Find the cheapest for all' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'all together' })).toBeVisible()
  const table = page.getByRole('table', { name: 'What each build bears' })
  await expect(table).toBeVisible()
  await expect(page.getByText(/^Buying together saves [\d.]+ EUR/)).toBeVisible()
  const told = await table
    .locator('tbody tr')
    .evaluateAll((rows) =>
      rows.map((row) => [
        row.querySelector('th')?.textContent ?? '',
        ...[...row.querySelectorAll('td')].map((td) => td.textContent ?? ''),
      ]),
    )
  const row = (name: string) => (told.find(([label]) => label === name) ?? []).slice(1).map(cents)
  // To the cent: of each build its parts, and of every part the builds.
  const parts = ['Goods', 'Beside the goods', 'Donor copies', 'Prints', 'Resale'].map(row).filter((r) => r.length > 0)
  for (const i of [0, 1, 2])
    expect(parts.reduce((sum, r) => sum + (Number.isNaN(r[i]) ? 0 : (r[i] ?? 0)), 0)).toBe(row('At the door')[i])
  const [first = 0, second = 0, all = 0] = row('At the door')
  expect(first + second).toBe(all)
  expect(cents((await headline(page).textContent())?.split(' for ')[0] ?? '')).toBe(all)
  expect(row('By itself')[2]).toBeGreaterThan(all)
  expect(await axeFinds(page)).toEqual([])

  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'All baskets as CSV' }).click()
  const file = await (await download).createReadStream()
  const rows = (await file.toArray()).join('').trim().split('\r\n').slice(1)
  // Pieces that fill a pack or a minimum are no build’s.
  const ours = rows.filter((line) => !line.includes(',none of them,'))
  const pieces = ours.reduce((sum, line) => sum + Number(line.split(',').at(-4)), 0)
  expect(pieces).toBe((row('Pieces')[2] ?? 0) / 100)

  // Shared by mass the builds bear otherwise, and all the same together; a reload loses nothing.
  await choose(page, 'Shipping and fees are shared', 'fees shared by mass')
  await expect(table.locator('tr', { hasText: 'At the door' }).locator('td').last()).toHaveText((all / 100).toFixed(2))
  await page.reload()
  await expect(table).toBeVisible()
  // Without one of them it answers other builds.
  await page.getByRole('checkbox', { name: /^Winch house/ }).click()
  await expect(headline(page)).toHaveText(/^Choose two builds or more/)
  await expect(table).toBeHidden()
  await page.getByRole('checkbox', { name: /^Winch house/ }).click()
  await expect(table).toBeVisible()
})

test('builds that one parcel cannot serve are told why', async ({ page }) => {
  await openDemo(page, `${BUILD}/brief`)
  await page
    .getByRole('group', { name: 'Duty and tax', exact: true })
    .getByRole('button', { name: 'Add a rate' })
    .click()
  await goWithin(page, '/together')
  await expect(page.getByText(/Duty and tax, or the country to send to, are not the same/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Find the cheapest for all' })).toBeDisabled()
})
