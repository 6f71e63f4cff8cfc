import { expect } from '@playwright/test'
import { headline, openDemo, SMALL_BUILD } from './demo.ts'
import { test } from './profile.ts'

test('shops in other money count once there is a rate; their bill is changed once, and is what the seller gets', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await expect(page.getByText(/offers or asking prices in CHF, CZK are left out/)).toBeVisible()
  await page.getByRole('link', { name: 'Say one on the Brief' }).click()
  const rates = page.getByRole('group', { name: 'Rates of exchange' })
  const add = async (code: string, rate: string) => {
    await rates.getByLabel('Another currency').fill(code)
    await rates.getByLabel('costs, EUR').fill(rate)
    await rates.getByLabel('costs, EUR').press('Enter')
  }
  // What cannot be is refused where it is typed, and stays.
  await add('chf', '0')
  await expect(rates.getByRole('alert')).toContainText('A rate above 0')
  await add('eur', '1')
  await expect(rates.getByRole('alert')).toContainText('own money')
  await add('franc', '1')
  await expect(rates.getByRole('alert')).toContainText('ISO 4217')
  await add('chf', '0,05')
  await expect(rates.getByLabel('1 CHF costs, EUR')).toHaveValue('0.05')
  await rates.getByLabel('Read on').fill('2026-11-01')
  await rates.getByLabel('Read on').press('Enter')
  await page.getByRole('link', { name: /^Buy/ }).first().click()
  await expect(page.getByText(/offers or asking prices in CZK are left out/)).toBeVisible()
  await expect(page.getByText(/The rate of CHF is of 2026-11-01/)).toBeVisible()

  await page.getByRole('button', { name: /^Find the cheapest/ }).click()
  await expect(headline(page)).toHaveText(/proven/)
  const basket = page.locator('details', { hasText: 'CH, about' }).first()
  await basket.locator('summary').click()
  const asks = basket.getByText(/The shop asks/)
  await expect(asks).toContainText('1 CHF = 0.05 EUR, your rate of 2026-11-01')
  const [, francs = '', euros = ''] = /([\d.]+) CHF in all, ([\d.]+) EUR/.exec((await asks.textContent()) ?? '') ?? []
  const cents = (text: string) => Math.round(Number(text) * 100)
  expect(cents(euros)).toBe(Math.floor((cents(francs) * 5 + 50) / 100))
  await basket.getByRole('button', { name: 'Copy as text' }).click()
  await expect
    .poll(() => page.evaluate(() => navigator.clipboard.readText()))
    .toContain(`${francs} CHF with shipping and fees`)

  // A tax of a half from that country bites: the bill says so, and what it adds is half of the euros.
  const before = await headline(page).textContent()
  await page
    .getByRole('link', { name: /^Brief/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'Add a rate', exact: true }).click()
  const tax = page.getByRole('group', { name: /^Duty and tax 1/ })
  await tax.getByLabel('Rate, %').fill('50')
  await tax.getByLabel('Rate, %').press('Enter')
  await expect(tax.getByLabel('Rate, %')).toHaveValue('50')
  await page.getByRole('link', { name: /^Buy/ }).first().click()
  await expect(page.getByText(/This plan answers an earlier state/)).toBeVisible()
  await page.getByRole('button', { name: /^Find the cheapest/ }).click()
  await expect(headline(page)).not.toHaveText(before ?? '')
  await expect(headline(page)).toHaveText(/proven/)
  const bill = page.locator('details', { hasText: 'CH, about' }).first()
  const said = (await bill.locator('summary').textContent()) ?? ''
  const sum = (pattern: RegExp) => cents(pattern.exec(said)?.[1] ?? '0')
  const asked = sum(/([\d.]+) \+ [\d.]+ shipping/) + sum(/\+ ([\d.]+) shipping/)
  expect(sum(/\+ ([\d.]+) duty and tax/)).toBe(Math.floor((asked + 1) / 2))
  expect(asked).toBeGreaterThan(0)
})
