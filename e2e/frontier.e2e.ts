import { expect, test, type Page } from '@playwright/test'
import { anyPlan, axeOf, BUILD, choose, headline, openDemo } from './demo.ts'

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
  await openDemo(page, `${BUILD}/buy`)
  const before = await anyPlan(page)
  await choose(page, 'Time limit', 'at most 10 s')
  const sooner = page.getByRole('region', { name: 'Sooner' })
  await sooner.getByRole('button', { name: 'What does it cost to have all sooner?' }).click()
  await expect(sooner.getByRole('status')).toContainText(/[1-9] points? found so far/, { timeout: 60_000 })
  await sooner.getByRole('button', { name: 'Stop, keep what is found' }).click()
  await expect(sooner.getByText(/sooner, \d+ instead of \d+, (costs|saves) [\d.]+/).first()).toBeVisible()
  await expect(sooner.getByRole('img')).toBeVisible()
  const points = await pointsOf(page, 'Sooner')
  expect(points.length).toBeGreaterThan(1)
  const limits = points.map((p) => p.limit)
  expect(limits).toEqual([...limits].sort((p, q) => q - p))
  expect((await axeOf(page).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([])

  const { limit = 0, cost = '', proof = '' } = points.at(-1) ?? {}
  await sooner
    .getByRole('button', { name: /^Keep within/ })
    .last()
    .click()
  await expect(page.getByText(`, within ${limit} days.`)).toBeVisible()
  await expect(sooner.getByText('This was drawn from an earlier plan.')).toBeVisible()
  expect(minor((await headline(page).textContent())?.split(' in ')[0] ?? '')).toBe(minor(cost))
  // It answers the build as it is now: not old, and with the proof of the tighter problem.
  await expect(headline(page)).toContainText(proof === 'proven' ? 'proven, nothing within the rules' : proof)
  await expect(page.getByRole('link', { name: /^Buy/ })).toContainText('plan kept')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText(before)
  await expect(page.getByText(`, within ${limit} days.`)).toBeHidden()
})
