import { expect, type BrowserContext, type Page } from '@playwright/test'
import { BUILD, grouped, headline, keepFirst, openDemo } from './demo.ts'
import { test } from './profile.ts'

const LIST = 'part,colour,quantity,place\nplate 2x4,Soot,12,Drawer A\nbrick 1x2,Chalk,3,Drawer B\n'

/** Keeps every worker that the page starts within reach, by its file's name. */
const keepWorkers = (page: Page) =>
  page.addInitScript(() => {
    const started: { name: string; worker: Worker }[] = []
    Object.assign(window, { started })
    window.Worker = class extends Worker {
      constructor(url: string | URL, options?: WorkerOptions) {
        super(url, options)
        started.push({ name: String(url), worker: this })
      }
    }
  })
/** Ends the workers of a name without a word, as a browser short of memory does; gives how many there were. */
const endWorkers = (page: Page, name: string) =>
  page.evaluate((part) => {
    const { started } = window as unknown as { started: { name: string; worker: Worker }[] }
    const found = started.splice(0).filter((s) => s.name.includes(part) || (started.push(s), false))
    for (const { worker } of found) worker.terminate()
    return found.length
  }, name)

async function importShelf(page: Page): Promise<void> {
  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.getByLabel('Rows', { exact: true }).fill(LIST)
  await page.getByRole('button', { name: 'Read the rows' }).click()
}

test('a list worker that is not found says so; once it is there the same rows come in', async ({ page }) => {
  let broken = true
  await page.route('**/list.worker*', (route) => (broken ? route.fulfill({ status: 404 }) : route.continue()))
  await importShelf(page)
  await expect(page.getByRole('alert')).toContainText('Reading failed')
  await expect(page.getByText('Reading…')).toHaveCount(0)
  await expect(page.getByLabel('Rows', { exact: true })).toHaveValue(LIST)
  broken = false
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(headline(page)).toContainText('15 pieces')
})

test('a list worker that ends between reading and importing says so, and imports nothing half', async ({ page }) => {
  await keepWorkers(page)
  await importShelf(page)
  await page.getByRole('button', { name: 'Import 2 rows' }).waitFor()
  expect(await endWorkers(page, 'list.worker')).toBe(1)
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(page.getByRole('alert').or(page.locator('[data-sonner-toast]')).first()).toContainText(/again|once more/)
  await expect(page.getByText('Importing…')).toHaveCount(0)
  await page.getByRole('button', { name: 'Back' }).click()
  await page.getByLabel('Rows', { exact: true }).fill(LIST)
  await page.getByRole('button', { name: 'Read the rows' }).click()
  await page.getByRole('button', { name: 'Import 2 rows' }).click()
  await expect(headline(page)).toContainText('15 pieces in 2 holdings')
})

test('a store worker that is not found loses no export; undo says that it failed, and works once it is there', async ({
  page,
}) => {
  let broken = true
  await page.route('**/store.worker*', (route) => (broken ? route.fulfill({ status: 404 }) : route.continue()))
  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Add a place' }).click()
  await expect(page.getByText('Added New place 1')).toBeVisible()
  await page.goto('/data')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  const stream = await download.createReadStream()
  let text = ''
  for await (const chunk of stream) text += String(chunk)
  expect((JSON.parse(text) as { places: unknown[] }).places).toHaveLength(1)
  await page.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByText(/That failed: .*Nothing was changed/)).toBeVisible()
  broken = false
  await page.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByText('Undone: Added New place 1')).toBeVisible()
})

test('workers that end without a word while they count or study are noticed, and the question can be asked again', async ({
  page,
}) => {
  await keepWorkers(page)
  await openDemo(page, `${BUILD}/tally`)
  await expect(headline(page)).toContainText('are short')
  expect(await endWorkers(page, 'tally.worker')).toBe(1)
  // The next change has a fresh one: what is shown is of now.
  const before = await headline(page).textContent()
  await page.goto(`${BUILD}/brief`)
  await expect(page.getByText(/fewer, \d+ short/).first()).toBeVisible()
  expect(before).toBeTruthy()
  // A study is ended as soon as it is at work.
  await page.evaluate(() => {
    const Kept = window.Worker
    Object.assign(window, { ending: true })
    window.Worker = class extends Kept {
      constructor(url: string | URL, options?: WorkerOptions) {
        super(url, options)
        if (String(url).includes('study.worker') && (window as unknown as { ending: boolean }).ending)
          this.addEventListener('message', () => {
            this.terminate()
          })
      }
    }
  })
  await page.getByRole('link', { name: /^Design/ }).click()
  await page.getByRole('button', { name: 'Colourways' }).click()
  const alert = page.getByRole('alert').filter({ hasText: 'could not be worked out' })
  await expect(alert).toBeVisible()
  await expect(page.getByText('Counting every scheme')).toHaveCount(0)
  await page.evaluate(() => Object.assign(window, { ending: false }))
  await alert.getByRole('button', { name: 'Try again' }).click()
  await expect(alert).toBeHidden()
  await expect(page.getByRole('table').first()).toBeVisible()
})

test('a purchase whose worker ends says so and can be asked again', async ({ page }) => {
  await keepWorkers(page)
  await openDemo(page, `${BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  const find = page.getByRole('button', { name: /^Find the cheapest/ })
  await expect(page.getByText(/usable offers from/)).toBeVisible()
  await expect(find).toBeEnabled()
  await find.click()
  await page.waitForFunction(() =>
    (window as unknown as { started: { name: string }[] }).started.some((s) => s.name.includes('sourcing.worker')),
  )
  expect(await endWorkers(page, 'sourcing.worker')).toBe(1)
  await expect(page.getByText(/The solver failed: the worker (ended|did not start).*try again/)).toBeVisible()
  await expect(find).toBeEnabled()
  await find.click()
  await keepFirst(page)
  await expect(headline(page)).toContainText('EUR')
})

test('a solver that is missing makes plans unproven, not the app broken', async ({ page }) => {
  await page.route('**/*.wasm', (route) => route.fulfill({ status: 404 }))
  await openDemo(page, `${BUILD}/tally`)
  await expect(headline(page)).toContainText('are short')
  await page.goto(`${BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  const find = page.getByRole('button', { name: /^Find the cheapest/ })
  await expect(page.getByText(/usable offers from/)).toBeVisible()
  await expect(find).toBeEnabled()
  await find.click()
  await expect(page.getByText(/The solver could not be loaded/)).toBeVisible()
  await expect(headline(page)).toContainText(/EUR/)
  await expect(headline(page)).not.toContainText('proven, nothing within the rules costs less')
  await expect(page.getByText(/^Optimal:/)).toHaveCount(0)
})

/** Names of what the browser may say, and what the page then says. */
const NOT_OPENED: readonly (readonly [string, () => void, RegExp])[] = [
  [
    'missing',
    () => {
      Object.defineProperty(window, 'indexedDB', { value: undefined })
    },
    /gives pages no storage for data/,
  ],
  [
    'refused',
    () => {
      IDBFactory.prototype.open = () => {
        throw new DOMException('The operation is insecure.', 'SecurityError')
      }
    },
    /forbids this address to keep data; blocked cookies/,
  ],
  [
    'failing',
    () => {
      IDBFactory.prototype.open = () => {
        throw new DOMException('Internal error opening backing store for indexedDB.open.', 'UnknownError')
      }
    },
    /storage failed: .*Internal error opening backing store/,
  ],
]
for (const [how, spoil, words] of NOT_OPENED)
  test(`storage that is ${how} is told as that, with a way on`, async ({ page }) => {
    await page.addInitScript(spoil)
    await page.goto('/')
    await expect(page.getByRole('heading', { name: 'Your data cannot be opened here' })).toBeVisible()
    await expect(page.getByText(words)).toBeVisible()
    await expect(page.getByRole('button', { name: 'Reload' })).toBeVisible()
  })

test('cookies blocked or a full local store only lose what the page would like to remember', async ({ page }) => {
  await page.addInitScript(() => {
    for (const name of ['localStorage', 'sessionStorage'])
      Object.defineProperty(window, name, {
        get: () => {
          throw new DOMException('Access is denied for this document.', 'SecurityError')
        },
      })
  })
  await openDemo(page, '/shelf')
  await expect(headline(page)).toContainText('341 holdings')
  await page.getByRole('button', { name: 'Dark theme' }).click()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await page.getByRole('button', { name: 'Add a place' }).click()
  await page.keyboard.press('Control+z')
  await expect(page.getByText(/Undone: Added New place/)).toBeVisible()
})

test('a full local store does not keep the theme from changing', async ({ page }) => {
  await page.addInitScript(() => {
    Storage.prototype.setItem = () => {
      throw new DOMException('full', 'QuotaExceededError')
    }
  })
  await page.goto('/')
  await page.getByRole('button', { name: 'Dark theme' }).click()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
})

for (const name of ['UnknownError', 'AbortError', 'QuotaExceededError'])
  test(`a write that fails by ${name} names it and keeps what was typed`, async ({ page }) => {
    await openDemo(page, `${BUILD}/brief`)
    await page.evaluate((error) => {
      const put = IDBObjectStore.prototype.put
      Object.assign(window, { heal: () => (IDBObjectStore.prototype.put = put) })
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('the disk said no', error)
      }
    }, name)
    const field = page.getByRole('textbox', { name: 'Name' })
    await field.fill('Renamed on a bad disk')
    await field.press('Enter')
    await expect(
      page.getByText(name === 'QuotaExceededError' ? /no room left/ : new RegExp(`could not write this \\(${name}`)),
    ).toBeVisible()
    await expect(field).toHaveValue('Renamed on a bad disk')
    await expect(page.getByText('Not written; Enter tries again')).toBeVisible()
    await page.evaluate(() => {
      ;(window as unknown as { heal: () => void }).heal()
    })
    await field.press('Enter')
    await expect(page.getByText('Renamed the build to Renamed on a bad disk')).toBeVisible()
    // A cell of a table keeps it likewise.
    await page.goto('/shelf')
    await page.evaluate((error) => {
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('the disk said no', error)
      }
    }, name)
    await page.getByRole('grid', { name: 'Holdings' }).focus()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.type('77')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('textbox', { name: 'Pieces', exact: true })).toHaveValue('77')
  })

/** A page of the same address that is none of the app. */
async function bystander(context: BrowserContext): Promise<Page> {
  const page = await context.newPage()
  await page.goto('/api/health')
  return page
}

test('an old tab that holds the data is named, and once it is closed the data opens by itself', async ({
  page,
  context,
}) => {
  const old = await bystander(context)
  await old.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const open = indexedDB.open('unfinished-brick', 10)
        open.onupgradeneeded = () => {
          for (const kind of 'parts colours sets copies places holdings builds designs shops offers plans settings'.split(
            ' ',
          ))
            open.result.createObjectStore(kind, { keyPath: 'id' })
          open.result.createObjectStore('journal', { keyPath: 'id', autoIncrement: true })
        }
        open.onsuccess = () => {
          const change = open.result.transaction('places', 'readwrite')
          change.objectStore('places').put({ id: 'l-1', name: 'Old bin', kind: 'bin', parent: null })
          change.oncomplete = () => {
            // An old tab does not let go when it is asked to.
            resolve()
          }
        }
      }),
  )
  await page.goto('/shelf')
  await expect(page.getByText(/held by another tab that still runs an older version/)).toBeVisible()
  await old.close()
  await expect(page.getByRole('list', { name: 'Places' })).toContainText('Old bin')
})

test('data that a newer version took over elsewhere is told over every screen, and nothing typed is lost unsaid', async ({
  page,
  context,
}) => {
  await openDemo(page, '/shelf')
  await expect(headline(page)).toContainText('341 holdings')
  const newer = await bystander(context)
  await newer.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('unfinished-brick', 10_000)
        open.onsuccess = () => {
          open.result.close()
          resolve()
        }
        open.onerror = () => {
          reject(new Error('not opened'))
        }
      }),
  )
  await expect(page.getByText(/A newer version of this app took the data over/)).toBeVisible()
  await page.getByRole('button', { name: 'Add a place' }).click()
  await expect(page.getByText(/upgraded or closed in another tab. Nothing was changed/)).toBeVisible()
  await page.getByRole('alert').getByRole('button', { name: 'Reload' }).click()
  await expect(page.getByText(/last opened by a newer version of this app/)).toBeVisible()
})

test('the screens can be left and everything exported whatever else fails', async ({ page }) => {
  await openDemo(page, '/data')
  await page.route('**/*.worker*', (route) => route.fulfill({ status: 404 }))
  await page.reload()
  await expect(headline(page)).toContainText(`${grouped(341)} holdings`)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/^unfinished-brick-.*\.json$/)
})
