import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { execFileSync } from 'node:child_process'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import * as v from 'valibot'
import { CarrierResponseSchema, CopiesResponseSchema } from '../market/wire.ts'
import { createApp } from './app.ts'
import { readSettings } from './settings.ts'

let server: Server
let base = ''
beforeAll(async () => {
  server = createApp({ dist: '/nonexistent', seed: 1, latency: 0 }).listen(0, '127.0.0.1')
  await new Promise((ready) => server.once('listening', ready))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => new Promise((done) => server.close(done)))

const post = (body: unknown) =>
  fetch(`${base}/api/market/offers`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })

test('offers answer within the wire schema, and the policy forbids inline script', async () => {
  const res = await post({ currency: 'EUR', items: [{ item: 'p-plate-2x4|c-x', part: 'plate 2x4', finish: 'opaque' }] })
  expect(res.status).toBe(200)
  const policy = res.headers.get('content-security-policy') ?? ''
  expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'")
  expect(policy).toContain("frame-ancestors 'none'")
})

test('the carrier answers within the wire schema, and a day that is none is refused', async () => {
  const ask = (body: unknown) =>
    fetch(`${base}/api/carrier/track`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  const parcel = { number: 'RR473124829CZ', from: 'CZ', to: 'AT', handed: '2026-03-01' }
  const res = await ask({ today: '2026-03-20', parcels: [parcel] })
  expect(res.status).toBe(200)
  const answer = v.parse(CarrierResponseSchema, await res.json())
  expect(answer.parcels.map((p) => p.number)).toEqual([parcel.number])
  expect(answer.parcels[0]?.events.at(-1)?.on ?? '').toMatch(/^2026-03-/)
  expect((await ask({ today: 'tomorrow', parcels: [] })).status).toBe(400)
})

test('copies offered second hand answer within the wire schema, and a request that does not fit is refused', async () => {
  const ask = (body: unknown) =>
    fetch(`${base}/api/market/copies`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  const lines = [{ item: 'p-plate-2x4|c-x', qty: 4, figure: false }]
  const res = await ask({ sets: Array.from({ length: 30 }, (_, i) => ({ set: `s-${i}`, lines })) })
  expect(res.status).toBe(200)
  expect(v.is(CopiesResponseSchema, await res.json())).toBe(true)
  expect((await ask({ sets: [{ set: 's-1', lines: [{ item: 'x', qty: -1, figure: false }] }] })).status).toBe(400)
  expect((await ask({ sets: Array.from({ length: 51 }, (_, i) => ({ set: `s-${i}`, lines: [] })) })).status).toBe(400)
})

test.each([
  [{ currency: 'EUR' }, 400],
  [{ currency: 'EUR', items: [{ item: '', part: 'x', finish: 'opaque' }] }, 400],
  [{ currency: 'EUR', items: [{ item: 'x'.repeat(3_000_000), part: 'x', finish: 'opaque' }] }, 413],
])('bad requests are refused: %#', async (body, status) => {
  const res = await post(body)
  expect(res.status).toBe(status)
  expect(((await res.json()) as { error: string }).error).toBeTruthy()
})

test.each([
  '/assets/none.js',
  '/assets/%2e%2e/%2e%2e/package.json',
  '/assets/%zz',
  '/api/none',
  '/assets/' + 'x'.repeat(300),
  '/',
])('no answer names a file of the machine: %s', async (path) => {
  const res = await fetch(base + path)
  const text = await res.text()
  expect(text).not.toMatch(/nonexistent|\/work|\/home|node_modules|ENOENT|stat |\.ts:|at \w+ \(/)
  expect(text.length).toBeLessThan(300)
})

test('a body that is no JSON is refused without saying what stands in it', async () => {
  const res = await fetch(`${base}/api/market/offers`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"secret": ',
  })
  expect([res.status, await res.json()]).toEqual([400, { error: 'the request cannot be read' }])
})

test.each([
  [{}, { port: 4173, latency: 400 }],
  [
    { PORT: '0', MARKET_LATENCY: '' },
    { port: 0, latency: 400 },
  ],
  [
    { PORT: ' 8080 ', MARKET_LATENCY: '5' },
    { port: 8080, latency: 5 },
  ],
])('settings %j are read', (env, settings) => {
  expect(readSettings(env)).toEqual(settings)
})

test('what is compressed beforehand is served so to who takes it, and plain to who does not (RFC 9110, 12.5.3)', async () => {
  const dist = mkdtempSync(join(tmpdir(), 'dist-'))
  mkdirSync(join(dist, 'assets'))
  const text = `export const words = '${'brick '.repeat(500)}'\n`
  writeFileSync(join(dist, 'assets', 'a.js'), text)
  writeFileSync(join(dist, 'assets', 'a.js.br'), brotliCompressSync(text))
  writeFileSync(join(dist, 'assets', 'a.js.gz'), gzipSync(text))
  const own = createApp({ dist, seed: 1, latency: 0 }).listen(0, '127.0.0.1')
  await new Promise((ready) => own.once('listening', ready))
  const port = (own.address() as AddressInfo).port
  for (const [accept, coded] of [
    ['gzip, deflate, br', 'br'],
    ['gzip', 'gzip'],
    ['identity', null],
  ] as const) {
    const res = await fetch(`http://127.0.0.1:${port}/assets/a.js`, { headers: { 'accept-encoding': accept } })
    expect([accept, res.headers.get('content-encoding'), await res.text()]).toEqual([accept, coded, text])
    expect(res.headers.get('content-type')).toMatch(/^text\/javascript/)
    expect(res.headers.get('vary')).toContain('Accept-Encoding')
    expect(res.headers.get('cache-control')).toContain('immutable')
    expect(res.headers.get('x-content-type-options')).toBe('nosniff')
  }
  await new Promise((done) => own.close(done))
  rmSync(dist, { recursive: true })
})

test.each(['abc', '-1', '65536', '80.5', '1e3', '0x10', '4173;rm'])('PORT=%s gets one line and no server', (port) => {
  const said = readSettings({ PORT: port })
  expect(said).toMatch(/^PORT=.* is no whole number from 0 to 65535\. Leave it out for 4173\.$/)
})

test('the server itself says it in one line and ends', () => {
  let said = ''
  try {
    execFileSync('npx', ['tsx', 'server/main.ts'], { env: { ...process.env, PORT: 'harbour' }, stdio: 'pipe' })
  } catch (error) {
    said = String((error as { stderr: Buffer }).stderr)
  }
  const lines = said.split('\n').filter((line) => line !== '' && !line.startsWith('npm '))
  expect(lines).toEqual(['PORT=harbour is no whole number from 0 to 65535. Leave it out for 4173.'])
}, 60_000)
