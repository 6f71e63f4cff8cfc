import { expect, type Locator, type Page } from '@playwright/test'
import { BUILD, headline, openDemo } from './demo.ts'
import { job } from './hostile-jobs.ts'
import { test } from './profile.ts'

/** A notice, held by the pointer on its Undo: it stays for as long as that, however slow the machine is. */
async function held(page: Page, text: string): Promise<Locator> {
  const notice = page.locator('[data-sonner-toast]').filter({ hasText: text })
  await notice.getByRole('button', { name: 'Undo' }).hover()
  return notice
}

test('the Undo of a notice undoes just that act, however much was done since, or refuses', async ({ page }) => {
  await openDemo(page, '/shelf')
  const add = page.getByRole('button', { name: 'Add a place' })
  await add.click()
  const notice = await held(page, 'Added New place 29')
  // Something else meanwhile, which the notice does not name.
  await add.press('Enter')
  await expect(page.locator('[data-sonner-toast]').filter({ hasText: 'Added New place 30' })).toBeVisible()
  await notice.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('Undone: Added New place 29')).toBeVisible()
  const places = page.getByRole('list', { name: 'Places' })
  await expect(places).not.toContainText('New place 29')
  await expect(places).toContainText('New place 30')
})

test('the Undo of a notice refuses when the same was changed since', async ({ page }) => {
  await openDemo(page, '/shelf')
  await page.getByRole('button', { name: 'Add a place' }).click()
  const notice = await held(page, 'Added New place 29')
  const places = page.getByRole('list', { name: 'Places' })
  await places.getByRole('button', { name: /^New place 29/ }).press('Enter')
  const name = page.getByRole('textbox', { name: 'Place' })
  await name.fill('Loft')
  await name.press('Enter')
  await expect(places).toContainText('Loft')
  await notice.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/“Renamed New place 29 to Loft” came after .* Undo that first/)).toBeVisible()
  await expect(places).toContainText('Loft')
})

test('Ctrl Z takes back what this tab did; what another tab did it asks about', async ({ page, context }) => {
  await openDemo(page, '/shelf')
  await expect(headline(page)).toContainText('341 holdings')
  const other = await context.newPage()
  await other.goto('/shelf')
  await other.getByRole('button', { name: 'Add a place' }).click()
  await expect(other.getByText('Added New place 29')).toBeVisible()
  const places = page.getByRole('list', { name: 'Places' })
  await expect(places).toContainText('New place 29')
  await page.bringToFront()
  await page.keyboard.press('Control+z')
  const asking = page.locator('[data-sonner-toast]').filter({ hasText: /“Added New place 29” was done in another tab/ })
  await expect(asking).toBeVisible()
  await expect(places).toContainText('New place 29')
  await asking.getByRole('button', { name: 'Undo it' }).click()
  await expect(page.getByText('Undone: Added New place 29')).toBeVisible()
  await expect(places).not.toContainText('New place 29')
  // The tab that did it goes on undoing its own after a reload.
  await other.getByRole('button', { name: 'Add a place' }).click()
  await expect(other.getByRole('list', { name: 'Places' })).toContainText('New place 29')
  await other.reload()
  await expect(other.getByRole('list', { name: 'Places' })).toContainText('New place 29')
  await other.keyboard.press('Control+z')
  await expect(other.getByText('Undone: Added New place 29')).toBeVisible()
})

test('Ctrl Z does not reach behind an open dialog', async ({ page }) => {
  await openDemo(page, '/shelf')
  await page.getByRole('button', { name: 'Add a place' }).click()
  await expect(page.getByRole('list', { name: 'Places' })).toContainText('New place 29')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.getByRole('button', { name: 'Choose files' }).focus()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText(/Undone/)).toHaveCount(0)
  await expect(page.getByRole('list', { name: 'Places' })).toContainText('New place 29')
})

test('a restore in one tab while another edits leaves no design without its build', async ({ page, context }) => {
  await openDemo(page, `${BUILD}/brief`)
  const other = await context.newPage()
  await other.goto('/data')
  await other.getByLabel('Job file').setInputFiles({
    name: 'empty.json',
    mimeType: 'application/json',
    buffer: Buffer.from(job({})),
  })
  const go = other.getByRole('button', { name: 'Replace everything' })
  await go.waitFor()
  await page.getByRole('textbox', { name: 'Name' }).fill('Typed while it was taken away')
  await Promise.all([go.click(), page.getByRole('textbox', { name: 'Name' }).press('Enter')])
  await expect(other.getByText('Restored', { exact: true })).toBeVisible()
  await expect(other.locator('header p')).toContainText('0 builds')
  const left = await other.evaluate(
    () =>
      new Promise<number[]>((resolve) => {
        const open = indexedDB.open('unfinished-brick')
        open.onsuccess = () => {
          const all = open.result.transaction(['builds', 'designs', 'versions', 'plans'])
          const counts: number[] = []
          for (const kind of ['builds', 'designs', 'versions', 'plans']) {
            const count = all.objectStore(kind).count()
            count.onsuccess = () => counts.push(count.result)
          }
          all.oncomplete = () => {
            open.result.close()
            resolve(counts)
          }
        }
      }),
  )
  expect(left).toEqual([0, 0, 0, 0])
})
