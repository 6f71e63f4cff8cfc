import { expect, type Locator, type Page } from '@playwright/test'
import { BUILD, openDemo } from './demo.ts'
import { test } from './profile.ts'

/** The words under a field that was refused, as its description says them. */
async function refusalOf(page: Page, field: Locator): Promise<string> {
  await expect(field).toHaveAttribute('aria-invalid', 'true')
  const id = await field.getAttribute('aria-describedby')
  return (await page.locator(`[id="${id}"]`).textContent()) ?? ''
}

test('a field stores what is committed and nothing before; what it refuses stays, says why, and Escape takes it back', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/brief`)
  const budget = page.getByLabel('Budget, EUR')
  const kept = await budget.inputValue()

  // Half typed and taken back.
  await budget.fill('12')
  await budget.press('Escape')
  await expect(budget).toHaveValue(kept)

  // Refused: the text stays, also when the field is left, and the reason is the field's description.
  await budget.fill('twelve')
  await budget.press('Enter')
  expect(await refusalOf(page, budget)).toContain('An amount like')
  await page.getByLabel('Scale, 1 to').focus()
  await expect(budget).toHaveValue('twelve')
  await budget.press('Escape')
  await expect(budget).toHaveValue(kept)
  await expect(budget).not.toHaveAttribute('aria-invalid')

  // Leaving commits; point and comma as people write them; it is there after a reload.
  await budget.fill('1.234,50')
  await budget.press('Tab')
  await expect(budget).toHaveValue('1234.50')
  await page.reload()
  await expect(budget).toHaveValue('1234.50')

  // Mended after a refusal, and emptied where nothing means something.
  await budget.fill('12.345,6789')
  await budget.press('Enter')
  expect(await refusalOf(page, budget)).not.toBe('')
  await budget.fill('80')
  await budget.press('Enter')
  await expect(budget).not.toHaveAttribute('aria-invalid')
  await expect(budget).toHaveValue('80.00')
  await budget.fill('')
  await budget.press('Enter')
  await expect(budget).toHaveValue('')

  // One act of the history each, named; undone one by one.
  await page.locator('body').press('Control+z')
  await expect(budget).toHaveValue('80.00')

  // A whole number within its bounds.
  const scale = page.getByLabel('Scale, 1 to')
  await scale.fill('1.5')
  await scale.press('Enter')
  expect(await refusalOf(page, scale)).toContain('A whole number from 1 to')
  await scale.fill('99999999')
  await scale.press('Enter')
  await expect(scale).toHaveValue('10000')
})

test('a form that is refused keeps its texts, says why at the field and goes there; mended and sent it is written', async ({
  page,
}) => {
  await openDemo(page, `${BUILD}/brief`)
  const [one, qty, other] = [
    page.getByLabel('One', { exact: true }),
    page.getByLabel('is', { exact: true }),
    page.getByLabel('times', { exact: true }),
  ]
  const send = page.getByRole('button', { name: 'Add the rule' })
  await send.click()
  await expect(one).toBeFocused()
  expect(await refusalOf(page, one)).toBe('Name a part.')

  await one.fill('no such thing 9x9')
  await qty.fill('0')
  await other.fill('plate 1x2')
  await other.press('Enter')
  expect(await refusalOf(page, one)).toContain('is no part of the catalogue')
  expect(await refusalOf(page, qty)).toBe('1 to 100.')
  await expect(other).toHaveValue('plate 1x2')

  // A part of itself is the other field's fault.
  await one.fill('plate 1x2')
  await qty.fill('2')
  await send.click()
  expect(await refusalOf(page, other)).toBe('A part cannot be made of itself.')
  await other.fill('plate 1x1')
  await expect(other).not.toHaveAttribute('aria-invalid')
  await send.click()
  await expect(page.locator('#main').getByText('One plate 1x2 = 2 × plate 1x1')).toBeVisible()
  await expect(one).toHaveValue('')
})

test('New build begins in its first field and does not start without a name', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New build' }).click()
  const name = page.getByRole('dialog').getByLabel('Name')
  await expect(name).toBeFocused()
  await page.keyboard.press('Enter')
  expect(await refusalOf(page, name)).toBe('Give it a name.')
  await page.keyboard.type('Weather mast')
  await expect(name).not.toHaveAttribute('aria-invalid')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/brief$/)
  await expect(page.getByRole('navigation', { name: 'Main' }).getByText('Weather mast')).toBeVisible()
})
