// Runs every check in order and counts: each static step is one, each test one. Later steps run even when one fails.
import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'

mkdirSync('.cache', { recursive: true })
const UNIT = '.cache/jest.json'
const E2E = '.cache/playwright.json'
for (const file of [UNIT, E2E]) rmSync(file, { force: true })
let passed = 0
let failed = 0

const readJson = (file) => {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return undefined
  }
}

function step(name, command, count) {
  const started = Date.now()
  const run = spawnSync(command, {
    shell: true,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, E2E_JSON: E2E, NODE_NO_WARNINGS: '1' },
  })
  const ok = run.status === 0
  const counted = count?.() ?? { passed: ok ? 1 : 0, failed: ok ? 0 : 1 }
  // A runner that fails without a failed test (a crash, a build error) still counts as one failure.
  if (!ok && counted.failed === 0) counted.failed = 1
  passed += counted.passed
  failed += counted.failed
  console.log(
    `${ok ? 'ok  ' : 'FAIL'} ${name}: ${counted.passed} passed, ${counted.failed} failed (${Math.round((Date.now() - started) / 1000)} s)`,
  )
  if (!ok)
    console.log(
      `${run.stdout}\n${run.stderr}`
        .split('\n')
        .map((l) => l.slice(0, 400))
        .slice(-120)
        .join('\n'),
    )
}

step('formatting', 'npx prettier --check --log-level warn .')
step('lint', 'npx eslint .')
step('types', 'npm run -s types')
step('dependency directions', 'npm run -s deps:check')
step('unused files, exports and packages', 'npm run -s unused:check')
step('published schemas', 'npx tsx bin/write-schemas.ts --check')
step('unit tests', `npm run -s test -- --json --outputFile=${UNIT}`, () => {
  const report = readJson(UNIT)
  return {
    passed: report?.numPassedTests ?? 0,
    failed: (report?.numFailedTests ?? 1) + (report?.numRuntimeErrorTestSuites ?? 0),
  }
})
step('build', 'npx vite build --logLevel warn')
step('browser tests', 'npx playwright test', () => {
  const stats = readJson(E2E)?.stats
  return { passed: stats?.expected ?? 0, failed: stats ? stats.unexpected + stats.flaky : 1 }
})
console.log(`${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
