import { expect, test, type Page } from '@playwright/test'

/** A shelf of 20,000 rows in 200 places: the size a big collection reaches. */
function bigList(): string {
  const sizes = ['1x1', '1x2', '1x3', '1x4', '1x6', '1x8', '2x2', '2x3', '2x4', '2x6', '2x8', '4x4']
  const families = ['plate', 'brick', 'tile', 'slope', 'round plate']
  const colours = ['Soot', 'Chalk', 'Gentian', 'Rowanberry', 'Spruce', 'Oatmeal', 'Peat']
  const rows = ['part,colour,quantity,place']
  for (let i = 0; i < 20_000; i++)
    rows.push(
      `${families[i % 5]} ${sizes[(i * 7) % 12]} style ${i % 40},${colours[(i * 3) % 7]},${(i % 30) + 1},Bin ${i % 200}`,
    )
  return rows.join('\n')
}

/**
 * How much slower the machine is at this moment than when the bounds below were measured: the best of five runs of a
 * fixed piece of work (22 ms then). Other tenants of the machine take half of it at times and more.
 */
async function slowness(page: Page): Promise<number> {
  const ms = await page.evaluate(() => {
    let best = Infinity
    for (let run = 0; run < 5; run++) {
      const started = performance.now()
      const words = new Map<string, number>()
      for (let i = 0; i < 60_000; i++) {
        const word = `plate ${(i * 7919) % 4001}`
        words.set(word, (words.get(word) ?? 0) + word.length)
      }
      best = Math.min(best, performance.now() - started)
    }
    return best
  })
  console.log(`fixed piece of work: ${ms.toFixed(1)} ms`)
  return Math.max(1, ms / 22)
}

test('20,000 rows come in without freezing the page, and the shelf answers at once', async ({ page }) => {
  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Import a shelf list' }).click()
  await page.evaluate(() => {
    const seen: number[] = []
    Object.assign(window, { longTasks: seen })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.push(entry.duration)
    }).observe({ entryTypes: ['longtask'] })
  })
  const slow = await slowness(page)
  const chosen = Date.now()
  await page
    .getByLabel('List file')
    .setInputFiles({ name: 'big.csv', mimeType: 'text/csv', buffer: Buffer.from(bigList()) })
  const go = page.getByRole('button', { name: /^Import [\d\s]+ rows$/ })
  await go.waitFor({ timeout: 60_000 })
  const previewed = Date.now() - chosen
  const pressed = Date.now()
  await go.click()
  await expect(page.locator('header p')).toContainText(/holdings, 200 places/, { timeout: 60_000 })
  const stored = Date.now() - pressed
  console.log(`20,000 rows: previewed in ${previewed} ms, stored and shown in ${stored} ms`)
  const worst = await page.evaluate(() => Math.max(0, ...(window as unknown as { longTasks: number[] }).longTasks))
  console.log(`longest task while importing 20,000 rows: ${Math.round(worst)} ms`)
  // Aims: 2 s, 5 s, and no task that is felt; measured 1.0 s, 1.0 s and 150 ms. Bounds are for a machine as it is now.
  expect(previewed / slow).toBeLessThan(4000)
  expect(stored / slow).toBeLessThan(8000)
  expect(worst / slow).toBeLessThan(1000)

  const words = ['plate', '2x4', 'tile', 'bin 1', 'chalk', 'soot', 'round plate 2x2', 'brick 1', 'gentian', 'slope']
  const answers = await page.evaluate(async (texts) => {
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
  answers.sort((p, q) => p - q)
  const at = (share: number) => answers[Math.min(answers.length - 1, Math.floor(answers.length * share))] ?? NaN
  console.log(`search on 20,000 holdings: median ${Math.round(at(0.5))} ms, p95 ${Math.round(at(0.95))} ms`)
  // The aim is 100 ms at p95; measured 40 and 90.
  expect(at(0.5) / slow).toBeLessThan(200)
  expect(at(0.95) / slow).toBeLessThan(500)
})
