import { expect, test } from '@playwright/test'

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
  await page
    .getByLabel('List file')
    .setInputFiles({ name: 'big.csv', mimeType: 'text/csv', buffer: Buffer.from(bigList()) })
  await page.getByRole('button', { name: /^Import [\d\s]+ rows$/ }).click()
  await expect(page.locator('header p')).toContainText(/holdings, 200 places/, { timeout: 60_000 })
  const worst = await page.evaluate(() => Math.max(0, ...(window as unknown as { longTasks: number[] }).longTasks))
  console.log(`longest task while importing 20,000 rows: ${Math.round(worst)} ms`)
  // Measured 200 ms on a quiet machine; the bound leaves room for one that is busy otherwise.
  expect(worst).toBeLessThan(1500)

  const answers: number[] = []
  const search = page.getByRole('searchbox', { name: 'Find on the shelf' })
  for (const text of ['plate', 'plate 2x4', 'plate 2x4 soot', 'plate 2x4 soot bin 1', 'chalk', 'tile gentian']) {
    const before = (await page.getByRole('status').filter({ hasText: 'holding' }).textContent()) ?? ''
    answers.push(
      await page.evaluate(
        async ({ text, before }) => {
          const input = document.querySelector<HTMLInputElement>('input[aria-label="Find on the shelf"]')
          if (!input) throw new Error('no search')
          const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set
          const started = performance.now()
          set?.call(input, text)
          input.dispatchEvent(new Event('input', { bubbles: true }))
          const status = () =>
            [...document.querySelectorAll('[role=status]')]
              .map((s) => s.textContent)
              .find((t) => t?.includes('holding'))
          while (status() === before && performance.now() - started < 2000) await new Promise((r) => setTimeout(r, 4))
          return performance.now() - started
        },
        { text, before },
      ),
    )
  }
  await expect(search).toHaveValue('tile gentian')
  answers.sort((p, q) => p - q)
  console.log(`search answers on 20,000 holdings: ${answers.map((a) => Math.round(a)).join(', ')} ms`)
  // The aim is 100 ms; measured 12 to 42 on a quiet machine. The bound leaves room for one that is busy otherwise.
  expect(answers[Math.floor(answers.length / 2)]).toBeLessThan(350)
})
