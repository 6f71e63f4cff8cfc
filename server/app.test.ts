import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { createApp } from './app.ts'

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

test.each([
  [{ currency: 'EUR' }, 400],
  [{ currency: 'EUR', items: [{ item: '', part: 'x', finish: 'opaque' }] }, 400],
  [{ currency: 'EUR', items: [{ item: 'x'.repeat(3_000_000), part: 'x', finish: 'opaque' }] }, 413],
])('bad requests are refused: %#', async (body, status) => {
  const res = await post(body)
  expect(res.status).toBe(status)
  expect(((await res.json()) as { error: string }).error).toBeTruthy()
})
