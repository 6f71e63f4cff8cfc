import { expect } from '@playwright/test'
import { axeFinds, goWithin, openDemo, SMALL_BUILD } from './demo.ts'
import { test } from './profile.ts'

test('a copy that is offered second hand is wanted with what it lacks, and weighed with the purchase', async ({
  page,
}) => {
  await openDemo(page, `${SMALL_BUILD}/donors?view=offered`)
  await page.getByRole('button', { name: 'Ask who offers copies second hand' }).click()
  const offered = page.getByRole('table', { name: 'Copies offered' })
  await expect(offered).toBeVisible()
  // Lacking something, in a condition that the rules allow.
  const row = offered
    .getByRole('row')
    .filter({ hasText: /[0-9]+ piece/ })
    .filter({ hasNotText: 'worse than' })
    .first()
  await row.locator('summary').click()
  await expect(row.getByRole('listitem').first()).toBeVisible()
  expect(await axeFinds(page)).toEqual([])
  const want = row.getByRole('button', { name: /^Want / })
  const label = (await want.getAttribute('aria-label')) ?? ''
  const [, name = '', seller = ''] = /^Want (.*) from (.*)$/.exec(label) ?? []
  await want.click()
  await expect(row.getByText('wanted')).toBeVisible()
  await page.keyboard.press('Control+z')
  await want.click()
  await expect(row.getByText('wanted')).toBeVisible()
  await goWithin(page, `${SMALL_BUILD}/donors`)
  await expect(
    page.getByRole('gridcell', { name: new RegExp(`${name}, (new|used|worn), from ${seller}`) }),
  ).toBeVisible()
  await goWithin(page, `${SMALL_BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  const copies = page.getByRole('region', { name: 'Donor copies' })
  await copies.getByRole('button', { name: 'What does each number of copies come to?' }).click()
  await expect(copies.getByRole('rowheader', { name: new RegExp(name) }).first()).toBeVisible()
})
