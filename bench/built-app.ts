import { chromium, type Browser, type CDPSession, type Page } from '@playwright/test'
import type { AddressInfo } from 'node:net'
import { JOB_FORMAT, JOB_VERSION } from '../core/formats/job-file.ts'
import { createApp } from '../server/app.ts'
import { bigScene } from './tally.ts'

/** A scene as the job file that the Data screen restores. */
function jobFile(): Buffer {
  const { build, design, sets, copies, holdings, places, parts } = bigScene()
  const none = { colours: [], shops: [], offers: [], plans: [] }
  const own = { parts: [...parts.values()], sets, copies, holdings, places, builds: [build], designs: [design] }
  const header = { format: JOB_FORMAT, version: JOB_VERSION, savedAt: '2026-01-01T00:00:00Z' }
  return Buffer.from(JSON.stringify({ ...header, ...none, ...own }))
}

export type InBrowser = {
  /** Milliseconds from a rule's choice to the headline that says what it comes to. */
  readonly rules: number[]
  /** Tasks of the page above 50 ms after a choice, the longest of each. */
  readonly longest: number[]
  /** Milliseconds from allowing splits everywhere to the first count with them, and to what the solver makes of it; twice. */
  readonly splits: { readonly first: number; readonly proven: number; readonly says: string }[]
  /** Bytes the tallying worker holds, as it is and after a collection. */
  readonly held: number
  readonly needed: number
}

/** Does some work with the built app, served to Chromium. */
export async function inBuiltApp<T>(dist: string, work: (browser: Browser, origin: string) => Promise<T>): Promise<T> {
  const server = createApp({ dist, seed: 1, latency: 0 }).listen(0, '127.0.0.1')
  await new Promise((ready) => server.once('listening', ready))
  const origin = `http://localhost:${(server.address() as AddressInfo).port}`
  const executablePath = process.env['CHROMIUM'] ?? '/usr/bin/chromium'
  const browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu'] })
  try {
    return await work(browser, origin)
  } finally {
    await browser.close()
    server.close()
  }
}

/** The big scene in the built app: rules toggled on the Brief screen, splits allowed there, and the memory of the worker. */
export async function measureTally(browser: Browser, origin: string): Promise<InBrowser> {
  const page = await (await browser.newContext()).newPage()
  await page.addInitScript(() => {
    const tasks: number[] = []
    Object.assign(window, { longTasks: tasks })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) tasks.push(entry.duration)
    }).observe({ entryTypes: ['longtask'] })
  })
  await page.goto(`${origin}/data`)
  await page.getByLabel('Job file').setInputFiles({ name: 'job.json', mimeType: 'application/json', buffer: jobFile() })
  await page.getByRole('button', { name: 'Replace everything' }).click({ timeout: 60_000 })
  await page.getByText('Restored').first().waitFor({ timeout: 60_000 })
  await page.goto(`${origin}/build/b-bench/brief`)
  const headline = page.locator('header p')
  await headline.filter({ hasText: /short in/ }).waitFor({ timeout: 60_000 })
  const rules: number[] = []
  const longest: number[] = []
  for (const [label, option] of [
    ['Worst condition', /^new/],
    ['Worst condition', /^used/],
    ['Other moulds', /^never/],
    ['Other moulds', /^allowed anywhere/],
  ] as const) {
    await page.waitForTimeout(2000)
    await page.getByLabel(label).click()
    await page.waitForTimeout(500)
    const before = await headline.textContent()
    await page.evaluate(() => {
      ;(window as unknown as { longTasks: number[] }).longTasks.length = 0
    })
    const started = performance.now()
    await page.getByRole('option', { name: option }).click()
    await page.waitForFunction((was) => document.querySelector('header p')?.textContent !== was, before)
    rules.push(performance.now() - started)
    longest.push(await page.evaluate(() => Math.max(0, ...(window as unknown as { longTasks: number[] }).longTasks)))
  }
  return { rules, longest, splits: [await withSplits(page), await withSplits(page)], ...(await workerMemory(browser)) }
}

/** Allows splits everywhere, until the Tally screen says that the count stands; and forbids them again. */
async function withSplits(page: Page): Promise<InBrowser['splits'][number]> {
  const headline = page.locator('header p')
  const choose = async (option: RegExp): Promise<{ before: string | null; started: number }> => {
    await page.waitForTimeout(2000)
    await page.getByLabel('Splits').click()
    await page.waitForTimeout(500)
    const before = await headline.textContent()
    const started = performance.now()
    await page.getByRole('option', { name: option }).click()
    return { before, started }
  }
  const changed = (before: string | null) =>
    page.waitForFunction((was) => document.querySelector('header p')?.textContent !== was, before)
  const brief = page.url()
  const { before, started } = await choose(/^allowed in structural/)
  await changed(before)
  const first = performance.now() - started
  await page
    .getByRole('link', { name: /^Tally/ })
    .first()
    .click()
  const goal = page.getByText(/^(Proven best|Best found)/)
  await goal.waitFor({ timeout: 60_000 })
  const proven = performance.now() - started
  const says = (await goal.textContent()) ?? ''
  await page.goBack()
  await page.waitForURL(brief)
  const back = await choose(/^never/)
  await changed(back.before)
  return { first, proven, says }
}

/** Bytes in use in the tallying worker: its heap and its arrays. */
async function workerMemory(browser: Browser): Promise<{ held: number; needed: number }> {
  const cdp = await browser.newBrowserCDPSession()
  const { targetInfos } = await cdp.send('Target.getTargets', { filter: [{}] })
  const worker = targetInfos.find((t) => t.type === 'worker' && t.url.includes('tally'))
  if (!worker) throw new Error('nothing tallies')
  const { sessionId } = await cdp.send('Target.attachToTarget', { targetId: worker.targetId, flatten: false })
  const used = async (): Promise<number> => {
    const { usedSize, backingStorageSize = 0 } = await ask<{ usedSize: number; backingStorageSize?: number }>(
      cdp,
      sessionId,
      'Runtime.getHeapUsage',
    )
    return usedSize + backingStorageSize
  }
  const held = await used()
  await ask(cdp, sessionId, 'HeapProfiler.collectGarbage')
  return { held, needed: await used() }
}

let asked = 0
function ask<T>(cdp: CDPSession, sessionId: string, method: string): Promise<T> {
  const id = ++asked
  return new Promise((resolve) => {
    cdp.on('Target.receivedMessageFromTarget', (event) => {
      const answer = JSON.parse(event.message) as { id: number; result: T }
      if (event.sessionId === sessionId && answer.id === id) resolve(answer.result)
    })
    void cdp.send('Target.sendMessageToTarget', { sessionId, message: JSON.stringify({ id, method }) })
  })
}
