import { expect, test, type Page } from '@playwright/test'
import { anyPlan, axeOf, BUILD, choose, goWithin, headline, openDemo, settled, told } from './demo.ts'

/** Minor units of an amount as the screens write it. */
const minor = (text: string) => Math.round(Number(text.replace(/[^\d.-]/g, '')) * 100)

const points = async (page: Page) => {
  const rows = page.getByRole('region', { name: 'Fewer orders' }).locator('tbody tr')
  return rows.evaluateAll((all) =>
    all.map((row) => [
      row.querySelector('th')?.textContent ?? '',
      row.querySelector('td b')?.textContent ?? '',
      row.querySelector('td span')?.textContent ?? '',
    ]),
  )
}

test('what fewer orders cost is drawn, and one of the points is kept with its rule, in one act', async ({ page }) => {
  await openDemo(page, `${BUILD}/buy`)
  const before = await anyPlan(page)
  const orders = await told(page, /in (\d+) orders?/)
  await choose(page, 'Time limit', 'at most 10 s')
  const fewer = page.getByRole('region', { name: 'Fewer orders' })
  await fewer.getByRole('button', { name: 'What do fewer orders cost?' }).click()
  await expect(fewer.getByRole('status')).toContainText(/[23] points found so far/, { timeout: 60_000 })
  await fewer.getByRole('button', { name: 'Stop, keep what is found' }).click()
  await expect(fewer.getByText(/^(One order|\d+ orders) fewer, \d+ instead of \d+, (costs|saves) [\d.]+/).first()).toBeVisible()
  const found = await points(page)
  expect(found.length).toBeGreaterThan(1)
  const limits = found.map(([limit]) => Number(/\d+/.exec(limit ?? '')?.[0]))
  expect(limits).toEqual([...limits].sort((p, q) => q - p))
  expect(limits[0]).toBeLessThanOrEqual(orders)
  expect((await axeOf(page).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([])

  const [limit = 0] = limits.slice(-1)
  const [, cost = '', proof = ''] = found.at(-1) ?? []
  await fewer.getByRole('button', { name: /^Keep at most|^Keep one/ }).last().click()
  await expect(headline(page)).toContainText(new RegExp(`in ${limit} orders?`))
  expect(minor((await headline(page).textContent())?.split(' in ')[0] ?? '')).toBe(minor(cost))
  // It answers the build as it is now: not old, and with the proof of the tighter problem.
  await expect(headline(page)).toContainText(proof === 'proven' ? 'proven, nothing within the rules' : proof)
  await expect(page.getByText(`At most ${limit} may be ordered from`)).toBeVisible()
  await expect(fewer.getByText('This was drawn from an earlier plan.')).toBeVisible()
  await goWithin(page, `${BUILD}/brief`)
  await settled(page)
  await expect(page.getByText('plan kept')).toBeVisible()
  await goWithin(page, `${BUILD}/buy`)
  await settled(page)
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText(before)
  await expect(page.getByText('Any number may be ordered from')).toBeVisible()
})
