import { test as base, type Browser, type BrowserContext } from '@playwright/test'
import { PORT } from './setup.ts'

/** The profile of a worker, once it is there. */
type Kept = { context: BrowserContext | undefined }

/** Takes away what a test left in a profile, so that the next finds a fresh one with an empty page. */
async function emptied(context: BrowserContext): Promise<void> {
  for (const page of context.pages()) await page.close()
  await context.unrouteAll()
  await context.clearPermissions()
  await context.clearCookies()
  await context.setOffline(false)
  const page = await context.newPage()
  const session = await context.newCDPSession(page)
  await session.send('Storage.clearDataForOrigin', { origin: `http://localhost:${PORT}`, storageTypes: 'all' })
  await session.detach()
}

/** The kept profile, emptied; another one where it is gone. */
async function profileOf(kept: Kept, browser: Browser): Promise<BrowserContext> {
  try {
    if (kept.context) {
      await emptied(kept.context)
      return kept.context
    }
  } catch {
    await kept.context?.close().catch(() => undefined)
  }
  kept.context = await browser.newContext()
  await emptied(kept.context)
  return kept.context
}

/**
 * Tests of one worker share a profile that is emptied before each: nothing stored, allowed or answered in between stays,
 * only what the browser has fetched of the app. It is compiled anew in each page: a process that stays through all tests
 * (`--process-per-site`) makes opening the demo a sixth cheaper, but the tests no faster.
 * `ownProfile` gives a test one for itself.
 */
export const test = base.extend<{ ownProfile: boolean }, { kept: Kept }>({
  ownProfile: [false, { option: true }],
  kept: [
    async ({ browser }, use) => {
      const kept: Kept = { context: undefined }
      await use(kept)
      if (browser.isConnected()) await kept.context?.close()
    },
    { scope: 'worker' },
  ],
  context: async ({ browser, kept, ownProfile }, use) => {
    if (!ownProfile) {
      await use(await profileOf(kept, browser))
      return
    }
    const own = await browser.newContext()
    await own.newPage()
    await use(own)
    await own.close()
  },
  page: async ({ context }, use) => {
    const [page] = context.pages()
    if (!page) throw new Error('a profile has a page')
    await use(page)
  },
})
