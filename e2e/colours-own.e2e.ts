import { expect } from '@playwright/test'
import { BUILD, choose, commit, goWithin, headline, openDemo } from './demo.ts'
import { test } from './profile.ts'

test('in an empty profile everything can be typed; a new colour is a guess until it is confirmed', async ({ page }) => {
  await page.goto('/shelf')
  const line = page.getByRole('combobox', { name: 'New holding' })
  // Completed by keyboard, the count in the middle, a colour that is new.
  await line.pressSequentially('plate 2x4 12 dark red')
  await expect(page.getByText('12 × plate 2x4')).toBeVisible()
  await choose(page, 'What dark red is', 'a new colour')
  await line.press('Enter')
  await expect(headline(page)).toContainText('12 pieces in 1 holding, 1 place')
  await line.pressSequentially('3 brick 1x1 weath')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(line).toHaveValue('3 brick 1x1 Weathered slate')
  await page.keyboard.press('Enter')
  await expect(headline(page)).toContainText('15 pieces in 2 holdings, 1 place')

  await goWithin(page, '/catalogue?view=colours')
  await expect(page.getByText('1 colour has a value guessed by the name')).toBeVisible()
  await page.getByRole('textbox', { name: 'Name of a new colour' }).fill('Dark red')
  await page.getByRole('button', { name: 'Add a colour' }).click()
  // The same name is the same colour: it is opened, not made twice.
  const panel = page.getByRole('complementary', { name: /dark red/i })
  await expect(panel.getByText('Its value is guessed by its name.')).toBeVisible()
  await commit(page, /^Value$/, 'zzz')
  await expect(panel.getByRole('alert')).toContainText('Six digits')
  await commit(page, /^Value$/, '#7a1420')
  await expect(panel.getByText('Its value is guessed by its name.')).toBeHidden()
  await expect(page.getByText('1 colour has a value guessed by the name')).toBeHidden()
  await panel.getByRole('textbox', { name: 'Another name' }).fill('Oxblood')
  await panel.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(panel.getByRole('button', { name: /is not oxblood/ })).toBeVisible()
  await goWithin(page, '/shelf')
  await page.getByRole('combobox', { name: 'New holding' }).fill('2 tile 1x1 oxblood')
  await page.getByRole('combobox', { name: 'New holding' }).press('Enter')
  await expect(headline(page)).toContainText('17 pieces in 3 holdings')
})

test('a colour is renamed, found to be another, and all in it follows; undone as one act', async ({ page }) => {
  await openDemo(page, '/catalogue?view=colours')
  const grid = page.getByRole('grid', { name: 'Colours' })
  const pick = async (name: string) => {
    await page.getByRole('searchbox', { name: 'Find a colour' }).fill(name)
    await grid.getByRole('gridcell', { name, exact: true }).click()
  }
  await pick('Peat')
  await commit(page, /^Name$/, 'Chalk')
  await expect(page.getByRole('alert')).toContainText('Chalk is called so')
  await commit(page, /^Name$/, 'Moor')
  await page.getByRole('searchbox', { name: 'Find a colour' }).fill('peat')
  // Found by its old name.
  await expect(grid.getByRole('gridcell', { name: 'Moor', exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Remove', exact: true })).toBeDisabled()

  await goWithin(page, `${BUILD}/colours`)
  await expect(headline(page)).toContainText('colours in the design')
  const before = (await headline(page).textContent()) ?? ''
  const count = Number(/^(\d+) colours/.exec(before)?.[1])
  await goWithin(page, `${BUILD}/colours?view=own`)
  await pick('Moor')
  await choose(page, 'It is the same as', 'Soot')
  await expect(page.getByRole('complementary', { name: 'Colour Soot' })).toBeVisible()
  await expect(headline(page)).toContainText(`${count - 1} colours in the design`)
  await page.locator('body').press('Control+z')
  await expect(headline(page)).toContainText(`${count} colours in the design`)
})
