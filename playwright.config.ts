import { defineConfig } from '@playwright/test'
import { BROWSER, BROWSER_FOR_JOURNEYS, PORT, SERVER } from './e2e/setup.ts'

export default defineConfig({
  testDir: 'e2e',
  // What takes longest comes first, so that nothing waits for it at the end.
  projects: [
    { name: 'long', testMatch: ['large.e2e.ts', 'accessibility.e2e.ts'] },
    {
      name: 'journeys',
      testMatch: '*.e2e.ts',
      testIgnore: ['large.e2e.ts', 'accessibility.e2e.ts'],
      use: { launchOptions: BROWSER_FOR_JOURNEYS },
    },
  ],
  // Room for a machine that is busy otherwise; a quiet one needs a tenth of it. Tests have no shorter limits of their own.
  timeout: 600_000,
  expect: { timeout: 120_000 },
  // Two at a time on one server; each test has a profile of its own.
  workers: 2,
  fullyParallel: true,
  forbidOnly: Boolean(process.env['CI']),
  reporter: process.env['E2E_JSON'] ? [['list'], ['json', { outputFile: process.env['E2E_JSON'] }]] : 'list',
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: BROWSER,
    acceptDownloads: true,
    // The app that the browser keeps would answer for requests that tests watch.
    serviceWorkers: 'block',
    // What moves only holds up who waits for it to stand still.
    contextOptions: { reducedMotion: 'reduce' },
  },
  webServer: SERVER,
})
