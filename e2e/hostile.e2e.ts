import { writeFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { strToU8, unzipSync, zipSync } from 'fflate'
import writeWorkbook from 'write-excel-file/node'
import { headline, openDemo, screensOf, SMALL_BUILD } from './demo.ts'
import { HOSTILE_JOBS, job } from './hostile-jobs.ts'
import { leastOf, longestTask, MOST_MS, slowness, watchTasks } from './machine.ts'
import { test } from './profile.ts'

async function openImport(page: Page): Promise<void> {
  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
}
const importButton = (page: Page) => page.getByRole('button', { name: /^Import [\d\s\u202f]+ rows?$/ })

async function plainWorkbook(rows: number): Promise<Uint8Array> {
  const cells = Array.from({ length: rows }, (_, i) => [
    `plate 2x4 pattern ${i}`,
    'Soot',
    (i % 30) + 1,
    `Drawer ${i % 40}`,
  ])
  const table = [['part', 'colour', 'quantity', 'place'], ...cells].map((row) => row.map((value) => ({ value })))
  return new Uint8Array(await writeWorkbook(table, { sheet: 'Parts' }).toBuffer())
}
/** A workbook with one sheet's XML replaced. */
async function workbookOf(rows: string): Promise<Buffer> {
  const entries = unzipSync(await plainWorkbook(1))
  const path = Object.keys(entries).find((name) => /worksheets\/[^/]+\.xml$/.test(name)) ?? ''
  entries[path] = strToU8(
    `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${rows}</sheetData></worksheet>`,
  )
  return Buffer.from(zipSync(entries))
}

test('a plain workbook of 5,000 rows comes in, in the built app under its own headers', async ({ page }) => {
  const file = await plainWorkbook(5000)
  const sheet = Object.entries(unzipSync(file)).find(([name]) => /worksheets\//.test(name))
  // Above this a reader would start a worker of its own, which the headers forbid.
  expect(sheet?.[1].length).toBeGreaterThan(512 * 1024)
  await openImport(page)
  await page
    .getByLabel('List file')
    .setInputFiles({ name: 'parts.xlsx', mimeType: 'application/zip', buffer: Buffer.from(file) })
  await importButton(page).click()
  await expect(headline(page)).toContainText(/5.000 holdings, 40 places/)
})

test('workbooks that are small and would cost a tab are refused in words, and the next one comes in', async ({
  page,
}) => {
  await openImport(page)
  const inline = (at: string, text: string) => `<c r="${at}" t="inlineStr"><is><t>${text}</t></is></c>`
  for (const [rows, words] of [
    [`<row r="1048576">${inline('XFD1048576', 'x')}</row>`, /XFD1048576/],
    [`<row r="1">${inline('A1', 'x'.repeat(10_000_000))}</row>`, /more than 32\s767 characters/],
    ['<row r="99999999999"></row>', /damaged/],
  ] as const) {
    const buffer = await workbookOf(rows)
    await page.getByLabel('List file').setInputFiles({ name: 'odd.xlsx', mimeType: 'application/zip', buffer })
    await expect(page.getByRole('alert').filter({ hasText: words })).toBeVisible()
    await expect(page.getByText('Reading…')).toHaveCount(0)
  }
  const buffer = Buffer.from(await plainWorkbook(3))
  await page.getByLabel('List file').setInputFiles({ name: 'fine.xlsx', mimeType: 'application/zip', buffer })
  await expect(importButton(page)).toBeVisible()
})

const COLOURS = ['Soot', 'Chalk', 'Gentian', 'Rowanberry', 'Spruce', 'Oatmeal', 'Peat']
const longList = (colour: (i: number) => string) =>
  [
    'part,colour,quantity,place',
    ...Array.from(
      { length: 199_999 },
      (_, i) => `plate 2x4 pattern ${Math.floor(i / 7)},${colour(i)},${(i % 30) + 1},Bin ${i % 200}`,
    ),
  ].join('\n')

test('lists of 200,000 rows and cells of megabytes are read without freezing the page', async ({ page }) => {
  const files: Record<string, string> = {
    accepted: longList((i) => COLOURS[i % 7] ?? ''),
    refused: longList(() => ''),
    'of unknown colours': longList((i) => `Hue ${i}`),
    'one cell': `part,colour,quantity\n"${'x'.repeat(24 * 1024 * 1024)}",Soot,1\n`,
  }
  await page.goto('/shelf')
  const slow = await slowness(page)
  const tasks: Record<string, number> = {}
  for (const [name, text] of Object.entries(files)) {
    const file = test.info().outputPath(`${name}.csv`)
    writeFileSync(file, text)
    const least = await leastOf(MOST_MS, async () => {
      await openImport(page)
      await watchTasks(page)
      await page.getByLabel('List file').setInputFiles(file)
      await expect(
        page
          .getByRole('alert')
          .or(page.getByRole('button', { name: /^Import / }).last())
          .first(),
      ).toBeVisible()
      await page.waitForTimeout(300)
      // As slow as the machine is by now, whatever it was at the beginning.
      return (await longestTask(page)) / (await slowness(page, slow))
    })
    tasks[name] = Math.round(least)
  }
  console.log(`longest task while reading 200,000 rows, ms of a quiet machine: ${JSON.stringify(tasks)}`)
  // The aim is 100 ms; measured 59 to 214 on a slow machine.
  for (const [name, ms] of Object.entries(tasks)) expect({ name, late: ms > MOST_MS }).toEqual({ name, late: false })
})

const PIXEL = 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJ'
const pictures = (mark: string) =>
  job({
    pictures: Array.from({ length: 160 }, (_, i) => ({
      id: `i-${i}`,
      name: `P ${i}`,
      data: PIXEL + mark.repeat(660_000),
    })),
  })

async function restore(page: Page, file: string): Promise<void> {
  await page.getByLabel('Job file').setInputFiles(file)
  await page.getByRole('button', { name: 'Replace everything' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText('Restored', { exact: true }).first()).toBeVisible()
}

test('160 pictures, 106 MB, export and restore, also over as many others, and can be undone', async ({ page }) => {
  const [one, two, out] = ['one.json', 'two.json', 'out.json'].map((name) => test.info().outputPath(name)) as [
    string,
    string,
    string,
  ]
  writeFileSync(one, pictures('A'))
  writeFileSync(two, pictures('B'))
  await page.goto('/data')
  const slow = await slowness(page)
  await watchTasks(page)
  let restores = 0
  const worst = await leastOf(MOST_MS * slow, async () => {
    await restore(page, one)
    await restore(page, two)
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Export everything' }).click(),
    ])
    await download.saveAs(out)
    await restore(page, out)
    restores += 3
    return longestTask(page)
  })
  console.log(`longest task while restoring and exporting 106 MB: ${worst} ms`)
  expect(worst / slow).toBeLessThan(MOST_MS)
  // The restores taken back one by one: the first left nothing.
  for (let i = 0; i < restores; i++) {
    await page.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(page.locator('main ol li.line-through')).toHaveCount(i + 1)
  }
  const kept = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const open = indexedDB.open('unfinished-brick')
        open.onsuccess = () => {
          const count = open.result.transaction('pictures').objectStore('pictures').count()
          count.onsuccess = () => {
            open.result.close()
            resolve(count.result)
          }
        }
      }),
  )
  expect(kept).toBe(0)
})

const SCREENS = screensOf('/build/b-1')

for (const name of [
  '8 modules doubling',
  'modules within one another 60 deep',
  'six hundred modules',
  'fifty thousand lines in one module',
  'two hundred builds',
  'two thousand orders on their way',
  'three thousand places in one another',
  'four hundred pictures of sixteen megapixels',
  'a thousand colours',
])
  test(`every screen answers on what a hostile file may bring: ${name}`, async ({ page }) => {
    const hostile = HOSTILE_JOBS.find((j) => j.name === name)
    if (!hostile) throw new Error('no such file')
    const file = test.info().outputPath('hostile.json')
    writeFileSync(file, hostile.text())
    await page.goto('/data')
    const slow = await slowness(page)
    await restore(page, file)
    // Measured in the page, which answers to a script as it would to a user.
    const seconds = async (path: string): Promise<number> => {
      const { there, wrong, ms } = await page.evaluate(async (to) => {
        const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
        const started = performance.now()
        history.pushState({}, '', to)
        dispatchEvent(new PopStateEvent('popstate', { state: {} }))
        const isThere = () =>
          location.pathname + location.search === to && document.querySelector('h1')?.checkVisibility() === true
        do await pause(50)
        while (!isThere() && performance.now() < started + 30_000)
        const wrong = /Something went wrong|could not be counted/.exec(document.body.textContent)?.[0]
        return { there: isThere(), wrong, ms: performance.now() - started }
      }, path)
      expect({ path, there, wrong }).toEqual({ path, there: true, wrong: undefined })
      return ms / 1000
    }
    const late: string[] = []
    // The aim is a second.
    for (const path of SCREENS) if ((await seconds(path)) / slow > 4) late.push(path)
    // What came late for the machine's sake does not do so again.
    for (const path of late) {
      await seconds('/data')
      const again = (await seconds(path)) / (await slowness(page))
      expect({ path, late: again > 4 }).toEqual({ path, late: false })
    }
  })

test('a refused file says why, in a few words, and changes nothing', async ({ page }) => {
  await openDemo(page, '/data')
  for (const name of [
    '40 modules doubling',
    'a thousand builds',
    'brackets a hundred thousand deep',
    'a text of 100 kB as name of the places',
    'a picture of 65535 by 65535 pixels',
  ]) {
    const hostile = HOSTILE_JOBS.find((j) => j.name === name)
    const file = test.info().outputPath('hostile.json')
    writeFileSync(file, hostile?.text() ?? '')
    await page.getByLabel('Job file').setInputFiles(file)
    const alert = page.locator('section').getByRole('alert')
    await expect(alert).toBeVisible()
    expect((await alert.textContent())?.length).toBeLessThan(400)
    await page.reload()
    await expect(headline(page)).toContainText('341 holdings')
  }
})

test('a market that answers absurdly is not believed: no record changes, and it is said why', async ({ page }) => {
  await openDemo(page, `${SMALL_BUILD}/buy`)
  type Answer = { shops: { id: string; name: string }[]; offers: { price: number; stock: number }[] }
  const spoil: readonly (readonly [(a: Answer) => Answer, RegExp])[] = [
    [(a) => ({ ...a, shops: a.shops.map((s) => ({ ...s, name: 'x'.repeat(400) })) }), /longer than 120 characters/],
    [(a) => ({ ...a, offers: a.offers.map((o) => ({ ...o, price: 1e12 })) }), /price that nobody pays/],
    [(a) => ({ ...a, offers: a.offers.map((o) => ({ ...o, stock: 1e12 })) }), /above 1.000.000/],
    [(a) => ({ ...a, shops: a.shops.map((s) => ({ ...s, id: `file-${s.id}` })) }), /place of a shop of yours/],
  ]
  for (const [change, words] of spoil) {
    await page.route('**/api/market/offers', async (route) => {
      const response = await route.fetch()
      await route.fulfill({ response, json: change((await response.json()) as Answer) })
    })
    await page
      .getByRole('button', { name: /Ask the market|Ask again/ })
      .first()
      .click()
    await expect(page.getByRole('main').getByRole('alert').filter({ hasText: words })).toBeVisible()
    await expect(page.getByText('No offers for the short items yet.')).toBeVisible()
    await page.unroute('**/api/market/offers')
  }
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await expect(page.getByText(/usable offers from/)).toBeVisible()
})
