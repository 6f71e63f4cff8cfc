import type { Page } from '@playwright/test'

/**
 * How much slower the machine is at this moment than when the bounds were measured: the best of five runs of a fixed piece
 * of work (22 ms then). Other tenants of the machine take half of it at times and more.
 */
export async function slowness(page: Page): Promise<number> {
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

/** Notes long tasks of the page from now on. */
export const watchTasks = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const seen: number[] = []
    Object.assign(window, { longTasks: seen })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.push(entry.duration)
    }).observe({ entryTypes: ['longtask'] })
  })

/**
 * The longest task noted since the last call, milliseconds; `forgiven` are the longest ones that are left out of it, where
 * what is watched is done more often than that: other tenants of the machine hold up a task now and then.
 */
export const longestTask = (page: Page, forgiven = 0): Promise<number> =>
  page.evaluate((out) => {
    const { longTasks } = window as unknown as { longTasks: number[] }
    const tasks = longTasks.splice(0).sort((p, q) => q - p)
    return Math.round(tasks[out] ?? 0)
  }, forgiven)
