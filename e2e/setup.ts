import { fileURLToPath } from 'node:url'

/**
 * What Playwright turns off as far as it matters here (the last such list counts), and pages of the address bar's own, which
 * took a tenth of the tests' time.
 */
const UNUSED_FEATURES = [
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsUpgrades',
  'HttpsFirstBalancedModeAutoEnable',
  'PaintHolding',
  'ThirdPartyStoragePartitioning',
  'AimEnabled',
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
]

/** Debian's Chromium, never a downloaded one. */
export const BROWSER = {
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    `--disable-features=${UNUSED_FEATURES.join()}`,
  ],
}

/**
 * For journeys, each of which starts the app afresh: what is used shortly is not worth the browser's last stage of compiling,
 * which took a twelfth of their time. Nothing is faster by it than for users.
 */
export const BROWSER_FOR_JOURNEYS = {
  ...BROWSER,
  args: [...BROWSER.args, '--js-flags=--no-opt --wasm-tiering-budget=20000000'],
}

export const PORT = 4190

/** Playwright starts commands beside its configuration; the server is started from the repository's root. */
export const SERVER = {
  cwd: fileURLToPath(new URL('..', import.meta.url)),
  command: 'npx tsx server/main.ts',
  env: { PORT: String(PORT), MARKET_LATENCY: '50' },
  url: `http://localhost:${PORT}/api/health`,
  reuseExistingServer: false,
  timeout: 30_000,
}
