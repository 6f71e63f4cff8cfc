import { writeFileSync } from 'node:fs'
import { expect } from '@playwright/test'
import { goWithin, itemAt, screensOf, settled } from './demo.ts'
import { leastOf, longestTask, MOST_MS, slowness, watchTasks } from './machine.ts'
import { test } from './profile.ts'

/** A shelf of 20,000 different items in 200 places: the size a big collection reaches. */
const bigList = () =>
  [
    'part,colour,quantity,place',
    ...Array.from({ length: 20_000 }, (_, i) => `${itemAt(i)},${(i % 30) + 1},Bin ${i % 200}`),
  ].join('\n')

/** A design of 5,000 lines in 200 modules, of which some pieces are short. */
const bigDesign = () =>
  [
    'part,colour,quantity,module',
    ...Array.from({ length: 5000 }, (_, i) => `${itemAt((i * 7) % 21_000)},${(i % 40) + 1},Module ${i % 200}`),
  ].join('\n')

/** 20,000 offers of 40 shops for what the design asks for. */
const bigOffers = () =>
  [
    'shop,part,colour,price,stock',
    ...Array.from(
      { length: 20_000 },
      (_, i) => `Shop ${(i * 11) % 40},${itemAt(((i % 5000) * 7) % 21_000)},0.${10 + (i % 80)},${5 + (i % 90)}`,
    ),
  ].join('\n')

test('20,000 rows come in without freezing the page, and the shelf answers at once', async ({ page }) => {
  // A real file: handing over its bytes would have the test's own script decode them in the page, a long task of its own.
  const file = test.info().outputPath('big.csv')
  writeFileSync(file, bigList())
  let slower = 1
  /** Brings the list in, and says which part of what is allowed that took, of preview, import and longest task the largest. */
  const imported = async (time: number): Promise<number> => {
    if (time > 0) {
      await page.goto('/data')
      await page.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).click()
      await expect(page.locator('main ol li.line-through')).toHaveCount(1)
    }
    await page.goto('/shelf')
    await page.getByRole('button', { name: 'Import a shelf list' }).click()
    await watchTasks(page)
    const slow = await slowness(page)
    const chosen = Date.now()
    await page.getByLabel('List file').setInputFiles(file)
    const go = page.getByRole('button', { name: /^Import [\d\s]+ rows$/ })
    await go.waitFor()
    const previewed = Date.now() - chosen
    const pressed = Date.now()
    await go.click()
    await expect(page.locator('header p')).toContainText(/in 20.000 holdings, 200 places/)
    const stored = Date.now() - pressed
    console.log(`20,000 rows: previewed in ${previewed} ms, stored and shown in ${stored} ms`)
    const worst = await longestTask(page)
    console.log(`longest task while importing 20,000 rows: ${worst} ms`)
    slower = await slowness(page, slow)
    // Aims: 2 s, 3 s, 100 ms; measured 1.0 s, 2.5 s and under 80 ms on a quiet machine. Here another test runs beside.
    return Math.max(previewed / 10_000, stored / 15_000, worst / 600) / slower
  }
  expect(await leastOf(1, imported)).toBeLessThan(1)

  const words = ['plate', '2x4', 'tile', 'bin 1', 'chalk', 'soot', 'round plate 2x2', 'brick 1', 'gentian', 'slope']
  const answer = () =>
    page.evaluate(async (texts) => {
      const input = document.querySelector<HTMLInputElement>('input[aria-label="Find on the shelf"]')
      if (!input) throw new Error('no search')
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set
      const status = () =>
        [...document.querySelectorAll('[role=status]')].map((s) => s.textContent).find((t) => t?.includes('holding'))
      const times: number[] = []
      for (const text of texts) {
        // Cleared between, so that every answer is another count than what stands there.
        for (const value of [text, '']) {
          const before = status()
          const started = performance.now()
          set?.call(input, value)
          input.dispatchEvent(new Event('input', { bubbles: true }))
          while (status() === before && performance.now() - started < 3000) await new Promise((r) => setTimeout(r, 2))
          times.push(performance.now() - started)
          await new Promise((r) => setTimeout(r, 60))
        }
      }
      return times
    }, words)
  // Of each word the better of two answers: what another process takes in between is not the search's.
  const [once, again] = [await answer(), await answer()]
  const answers = once.map((ms, i) => Math.min(ms, again[i] ?? ms)).sort((p, q) => p - q)
  const at = (share: number) => answers[Math.min(answers.length - 1, Math.floor(answers.length * share))] ?? NaN
  console.log(`search on 20,000 holdings: median ${Math.round(at(0.5))} ms, p95 ${Math.round(at(0.95))} ms`)
  // The aim is 100 ms at p95; measured 32 and 94 on a quiet machine.
  expect(at(0.5) / slower).toBeLessThan(400)
  expect(at(0.95) / slower).toBeLessThan(1000)

  // The same shelf with a design of 5,000 lines and 20,000 offers: no screen freezes the page.
  await page.goto('/')
  await page.getByRole('button', { name: 'New build' }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill('Great wall')
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await expect(page).toHaveURL(/brief/)
  const build = new URL(page.url()).pathname.replace(/\/brief$/, '')
  const bring = async (path: string, open: () => Promise<void>, name: string, text: string) => {
    await page.goto(path)
    await open()
    await page.getByLabel('List file').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
    await page.getByRole('button', { name: /^Import [\d\s]+ rows$/ }).click()
    await expect(page.getByRole('dialog')).toBeHidden()
  }
  await bring(
    `${build}/design`,
    async () => {
      await page.getByRole('button', { name: 'Import a parts list' }).click()
    },
    'design.csv',
    bigDesign(),
  )
  await bring(
    `${build}/buy`,
    async () => {
      await page.getByRole('button', { name: 'Import offers' }).click()
    },
    'offers.csv',
    bigOffers(),
  )
  /** Opens the app anew, on a screen that shows little. */
  const anew = async () => {
    await page.goto('/data')
    await settled(page, 300)
    await watchTasks(page)
  }
  /** The longest task while a screen is opened from the one before, until it stands still, milliseconds. */
  const opening = async (path: string): Promise<number> => {
    await longestTask(page)
    await goWithin(page, path)
    await settled(page, 300)
    return longestTask(page)
  }
  await anew()
  const longest: Record<string, number> = {}
  for (const path of screensOf(build)) {
    longest[path.replace(build, '')] = await leastOf(MOST_MS * slower, async (time) => {
      if (time > 0) await anew()
      return opening(path)
    })
  }
  console.log(`longest task on opening each screen, ms: ${JSON.stringify(longest)}`)
  for (const [screen, ms] of Object.entries(longest))
    expect({ screen, late: ms / slower > MOST_MS }).toEqual({ screen, late: false })
})
