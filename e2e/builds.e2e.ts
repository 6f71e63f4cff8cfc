import { expect } from '@playwright/test'
import { goWithin, headline, openDemo } from './demo.ts'
import { test } from './profile.ts'

test('a build is copied, set aside, brought back and removed with what is its own; undone as one act', async ({
  page,
}) => {
  await openDemo(page, '/')
  const act = async (name: RegExp, what: string) => {
    await page.getByRole('button', { name }).click()
    await page.getByRole('menuitem', { name: what }).click()
  }
  await act(/^Acts for Mountain observatory/, 'Copy')
  await expect(headline(page)).toHaveText('6 builds on the table.')
  const copy = page.getByRole('link', { name: /\(copy\)/ })
  // Donor copies serve the first build: all the copy needs comes from the shelf, or is short.
  await expect(copy).toContainText(/1.267 pieces/)
  await act(/^Acts for .*\(copy\)/, 'Set aside')
  await expect(headline(page)).toHaveText('5 builds on the table, 1 build set aside.')
  await page.getByText('Set aside: 1 build').click()
  await act(/^Acts for .*\(copy\)/, 'Bring back')
  await expect(headline(page)).toHaveText('6 builds on the table.')
  await act(/^Acts for Mountain observatory with funicular station$/, 'Remove')
  await expect(headline(page)).toHaveText('5 builds on the table.')
  await goWithin(page, '/shelf')
  // What it offered for sale and had not sent is on the shelf again.
  await expect(headline(page)).toContainText('342 holdings')
  await goWithin(page, '/')
  await expect(headline(page)).toHaveText('5 builds on the table.')
  await page.locator('body').press('Control+z')
  await expect(headline(page)).toHaveText('6 builds on the table.')
  await page
    .getByRole('link', { name: /^Mountain observatory with funicular station \(copy\)|observatory/ })
    .first()
    .waitFor()
})
