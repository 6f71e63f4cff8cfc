import { expect } from '@playwright/test'
import { choose, goWithin, headline, startBuild } from './demo.ts'
import { test } from './profile.ts'

test('shops of one’s own come with an offers file or are typed; a plan with unknown shipping claims nothing', async ({
  page,
}) => {
  const build = await startBuild(page, 'Weather mast')
  await goWithin(page, `${build}/design`)
  await page.getByRole('button', { name: 'Add a module' }).click()
  const line = page.getByRole('combobox', { name: 'New line' })
  await line.fill('4 plate 2x4 Soot')
  await line.press('Enter')
  await expect(headline(page)).toContainText('4 pieces')

  await goWithin(page, '/shops')
  await expect(headline(page)).toContainText('No shop is known yet')
  await page.getByRole('button', { name: 'Import offers' }).click()
  await page
    .getByRole('textbox', { name: 'Rows' })
    .fill('shop,part,colour,price,stock\nCorner shop,plate 2x4,Soot,0.10,40\n')
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('button', { name: 'Import 1 row' }).click()
  await expect(headline(page)).toContainText('1 shop, 1 of your own; the shipping of 1 is not known')

  // Its shipping is not known: the plan says so and claims nothing.
  await goWithin(page, `${build}/buy`)
  await page.getByRole('button', { name: 'Find the cheapest orders' }).click()
  await expect(headline(page)).toContainText('without the shipping of 1 shop, which is not known: nothing is proven')

  await goWithin(page, '/shops')
  const panel = page.getByRole('complementary', { name: /Corner/ })
  await choose(page, 'Shipping is', 'by weight')
  await panel.getByLabel('Minimum order, EUR').fill('much')
  await panel.getByRole('button', { name: 'Save the shop' }).click()
  await expect(panel.getByText('An amount like 3.90.')).toBeVisible()
  await expect(panel.getByText('Write steps like 500 g 3.90; 2 kg 6.90.')).toBeVisible()
  await panel.getByLabel('Minimum order, EUR').fill('0,30')
  await panel.getByLabel('Up to which weight for how much').fill('500 g 2.50; 2 kg 4.90')
  await panel.getByRole('button', { name: 'Save the shop' }).click()
  await expect(headline(page)).toHaveText('1 shop, 1 of your own.')
  await page.reload()
  await expect(panel.getByLabel('Up to which weight for how much')).toHaveValue('500 g 2.50; 2 kg 4.90')

  await goWithin(page, `${build}/buy`)
  await page.getByRole('button', { name: 'Find the cheapest again' }).click()
  // Four at 0.10 and the first step of shipping.
  await expect(headline(page)).toContainText('2.90')
  await expect(headline(page)).toContainText('proven, nothing within the rules costs less')

  await goWithin(page, '/shops')
  await page.getByRole('button', { name: 'Add a shop' }).click()
  await expect(headline(page)).toContainText('2 shops, 2 of your own; the shipping of 1 is not known')
  const stall = page.getByRole('complementary', { name: 'Shop New shop 2' })
  await stall.getByLabel('Name').fill('Market stall')
  await stall.getByLabel('Country').fill('A')
  await stall.getByRole('button', { name: 'Save the shop' }).click()
  await expect(stall.getByText('Two letters, such as AT.')).toBeVisible()
  await stall.getByLabel('Country').fill('at')
  await stall.getByRole('button', { name: 'Save the shop' }).click()
  await expect(page.getByRole('complementary', { name: 'Shop Market stall' })).toBeVisible()
  await page.getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(headline(page)).toContainText('1 shop, 1 of your own')
})
