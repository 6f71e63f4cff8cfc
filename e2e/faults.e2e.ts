import { expect, type Page } from '@playwright/test'
import { BUILD, goWithin, headline, openDemo, proven, SMALL_BUILD, told } from './demo.ts'
import { KINDS } from './hostile-jobs.ts'
import { test } from './profile.ts'

/** Writes into the browser's database behind the app's back. */
const store = (page: Page, kind: string, record: Record<string, unknown>) =>
  page.evaluate(
    ([table, value]) =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('unfinished-brick')
        open.onerror = () => {
          reject(new Error('not opened'))
        }
        open.onsuccess = () => {
          const change = open.result.transaction(table, 'readwrite')
          change.objectStore(table).put(value)
          change.oncomplete = () => {
            open.result.close()
            resolve()
          }
        }
      }),
    [kind, record] as const,
  )

test('a count that fails harms that answer alone, says so, and is healed by trying again', async ({ page }) => {
  let broken = true
  await page.route('**/tally.worker*', (route) => (broken ? route.abort() : route.continue()))
  await page.goto('/?demo')
  // The list of builds names the one that cannot be counted; other screens work.
  await expect(page.getByRole('alert').filter({ hasText: 'could not be counted' }).first()).toBeVisible()
  await goWithin(page, '/shelf')
  await expect(headline(page)).toContainText('341 holdings')
  await goWithin(page, `${BUILD}/tally`)
  await expect(page.getByRole('heading', { name: 'This build could not be counted' })).toBeVisible()
  broken = false
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(headline(page)).toContainText('are short')

  // A crash later leaves the last count, marked as such; the next change heals it.
  const short = await told(page, /(\d+) pieces of/)
  expect(short).toBeGreaterThan(0)
})

test('a study that fails says so and is asked again', async ({ page }) => {
  let broken = true
  await page.route('**/study.worker*', (route) => (broken ? route.abort() : route.continue()))
  await openDemo(page, `${BUILD}/brief`)
  const alert = page.getByRole('alert').filter({ hasText: 'could not be worked out' })
  await expect(alert).toBeVisible()
  await expect(headline(page)).toContainText('short')
  broken = false
  await alert.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByText(/fewer, \d+ short/).first()).toBeVisible()
})

test('stored records that do not fit are set aside by name, and everything else works and is exported', async ({
  page,
}) => {
  await openDemo(page, '/shelf')
  await expect(headline(page)).toContainText('341 holdings')
  for (const kind of KINDS) await store(page, kind, { id: `x-${kind}`, name: null, lines: 7, qty: 'many' })
  for (const path of [
    '/',
    '/shelf',
    '/catalogue',
    ...['brief', 'donors', 'design', 'tally', 'colours', 'buy'].map((s) => `${BUILD}/${s}`),
  ]) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await expect(page.getByText(/Something went wrong|cannot be opened/)).toHaveCount(0)
  }
  await page.goto('/data')
  const aside = page.getByRole('region', { name: 'Records set aside' })
  await expect(aside).toContainText('21 stored records do not fit')
  await expect(aside).toContainText('One of the holdings, x-holdings')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  const stream = await download.createReadStream()
  let text = ''
  for await (const chunk of stream) text += String(chunk)
  const file = JSON.parse(text) as { holdings: unknown[]; setAside: { kind: string }[] }
  expect(file.holdings.length).toBe(341)
  expect(file.setAside.map((s) => s.kind).sort()).toEqual([...KINDS].sort())
  await aside.getByRole('button', { name: 'Remove x-holdings' }).click()
  await expect(aside).toContainText('20 stored records')
})

test('a plan from a file is checked anew: a false one is named, a sound one proves nothing until it is found again', async ({
  page,
  browser,
}) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await proven(page)
  await goWithin(page, '/data')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  let text = ''
  for await (const chunk of await download.createReadStream()) text += String(chunk)
  type Plan = { plan: { total: number; bound: number; gap: number; status: string; cost: { goods: number } } }
  const other = await (await browser.newContext()).newPage()
  const restore = async (change: (plan: Plan['plan']) => void): Promise<void> => {
    const file = JSON.parse(text) as { plans: Plan[] }
    for (const { plan } of file.plans) change(plan)
    await other.goto('/data')
    await other
      .getByLabel('Job file')
      .setInputFiles({ name: 'job.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(file)) })
    await other.getByRole('button', { name: 'Replace everything' }).click()
    await expect(headline(other)).toContainText(/[1-9]\d* builds/)
  }
  // A bound that was only written.
  await restore((plan) => Object.assign(plan, { bound: plan.total, gap: 0, status: 'optimal' }))
  await other.goto(`${SMALL_BUILD}/buy`)
  await expect(headline(other)).toContainText('checked, but found elsewhere')
  await expect(other.locator('main')).not.toContainText('proven, nothing')
  // Undo brings back the state before, without a reload.
  await other.goto('/data')
  await other.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(headline(other)).toContainText('0 builds')
  // "0.01 EUR, proven": the parts do not add up to it.
  await restore((plan) => Object.assign(plan, { total: 1, bound: 1, gap: 0, status: 'optimal' }))
  await other.goto(`${SMALL_BUILD}/buy`)
  await expect(headline(other)).toContainText('does not hold')
  await expect(other.locator('body')).not.toContainText('0.01 EUR')
  await other.goto('/')
  await expect(other.locator('body')).not.toContainText('0.01 EUR')
  await other.context().close()
})

test('a plan older than its build says so on Buy, on the Brief, on Builds and in the rail', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  await proven(page)
  const rail = page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: /^Buy/ })
  await expect(rail).toContainText('plan kept')
  await goWithin(page, `${SMALL_BUILD}/design`)
  await page.getByRole('combobox', { name: 'New line' }).fill('14 plate 2x8 Soot')
  await page.getByRole('combobox', { name: 'New line' }).press('Enter')
  await expect(rail).toContainText('plan is old')
  await goWithin(page, `${SMALL_BUILD}/buy`)
  await expect(headline(page)).toContainText('older than the build')
  await expect(headline(page)).not.toContainText('proven')
  await goWithin(page, `${SMALL_BUILD}/brief`)
  await expect(headline(page)).toContainText('find the orders again')
  await expect(page.getByRole('link', { name: 'Find the orders again' })).toBeVisible()
  await goWithin(page, '/')
  await expect(page.getByRole('listitem').filter({ hasText: 'Winch house' })).toContainText('older than the build')
})

test('the demo never overwrites what is the user’s, and follows the user’s merges', async ({ page }) => {
  await page.goto('/catalogue')
  await store(page, 'colours', { id: 'c-soot', name: 'Soot', hex: '#010203', finish: 'metal', aliases: ['mine'] })
  await store(page, 'parts', {
    id: 'p-plate-2x4',
    name: 'my own plate',
    shape: { family: 'plate', width: 2, length: 4, height: 1, hand: 'none', mass: 999 },
    aliases: ['p-plate-2x6'],
  })
  await page.goto('/?demo')
  await expect(page.getByRole('link', { name: /Mountain observatory/ })).toBeVisible()
  const kept = await page.evaluate(
    () =>
      new Promise<Record<string, unknown>[]>((resolve) => {
        const open = indexedDB.open('unfinished-brick')
        open.onsuccess = () => {
          const all = open.result.transaction(['parts', 'colours']).objectStore('parts').getAll()
          all.onsuccess = () => {
            const soot = open.result.transaction('colours').objectStore('colours').get('c-soot')
            soot.onsuccess = () => {
              resolve([...(all.result as Record<string, unknown>[]), soot.result as Record<string, unknown>])
            }
          }
        }
      }),
  )
  expect(kept.find((r) => r['id'] === 'c-soot')).toMatchObject({ hex: '#010203', finish: 'metal', aliases: ['mine'] })
  expect(kept.find((r) => r['id'] === 'p-plate-2x4')).toMatchObject({ name: 'my own plate' })
  expect(kept.find((r) => r['id'] === 'p-plate-2x6')).toBeUndefined()
})

test('leftovers keep what lies on the shelf, two tabs lose no edit, a copy still to buy has nothing to put away', async ({
  page,
  context,
}) => {
  await openDemo(page, `${BUILD}/donors`)
  const other = await context.newPage()
  await other.goto('/shelf')
  await expect(headline(other)).toContainText('341 holdings')
  const copies = page.getByRole('grid', { name: 'Copies' })
  await copies.getByRole('row').nth(1).getByRole('gridcell').first().click()
  const put = page.getByRole('button', { name: /^Put .* leftovers? on the shelf/ })
  await put.click()
  await expect(page.getByText(/^Put .* leftovers? of .* on the shelf$/).first()).toBeVisible()
  // The other tab has them too, without a reload.
  await expect(headline(other)).not.toContainText('341 holdings')
  await expect(headline(other)).toContainText('29 places')
})
