import { expect } from '@playwright/test'
import { BUILD, choose, goWithin, openDemo } from './demo.ts'
import { test } from './profile.ts'

test('prints are an order of their maker’s, and what someone promised is told with its day', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openDemo(page, '/shelf')
  await page
    .getByRole('button', { name: /Parcel from Aunt Hedwig/ })
    .first()
    .click()
  await choose(page, 'Kind', 'promised')
  const due = page.getByLabel('Promised for')
  await due.fill('2026-02-30')
  await due.press('Enter')
  await expect(page.getByText('A day such as 2026-12-10, or nothing.')).toBeVisible()
  await due.fill('2026-01-10')
  await due.press('Enter')
  await expect(page.getByText('A day such as 2026-12-10, or nothing.')).toBeHidden()

  await goWithin(page, `${BUILD}/buy`)
  const coming = page.getByRole('region', { name: 'Still to come' })
  await expect(coming).toContainText(/4 pieces of Parcel from Aunt Hedwig, promised for 2026-01-10: \d+ days overdue/)
  const prints = page.getByRole('region', { name: 'Printed to order' })
  await expect(prints).toContainText('4 prints from 1 maker: 7.20 EUR')
  await prints.getByRole('button', { name: 'Copy as text' }).click()
  await expect
    .poll(() => page.evaluate(() => navigator.clipboard.readText()))
    .toMatch(/^Ahorn prints: 4 prints, 7.20 EUR\n4 x .*, artwork summit-sign.svg at 1.80$/)
  // It is undone, also the day.
  await page.keyboard.press('Control+z')
  await expect(coming).toContainText('no day known')
})
