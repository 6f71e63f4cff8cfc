import { defineConfig } from '@playwright/test'
import { BROWSER, PORT, SERVER } from './setup.ts'

/** `npm run screenshots`: one picture of each main view, from the demo data, into docs/screenshots. */
export default defineConfig({
  testDir: '.',
  testMatch: 'screenshots.ts',
  timeout: 300_000,
  workers: 1,
  reporter: 'list',
  use: { baseURL: `http://localhost:${PORT}`, viewport: { width: 1280, height: 800 }, launchOptions: BROWSER },
  webServer: SERVER,
})
