import { existsSync } from 'node:fs'
import { STATUS_CODES } from 'node:http'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import precompressed from 'express-static-gzip'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import * as v from 'valibot'
import { trackParcels } from '../market/carrier.ts'
import { copiesFor } from '../market/copies.ts'
import { offersFor } from '../market/offers.ts'
import { hash } from '../market/random.ts'
import { CarrierRequestSchema, CopiesRequestSchema, OffersRequestSchema } from '../market/wire.ts'

export type ServerOptions = {
  /** The built app. */
  readonly dist: string
  readonly seed: number
  /** Longest simulated latency of the stand-ins, milliseconds; 0 for none. */
  readonly latency: number
}

/** What an answer says of its status; others in the words of RFC 9110. */
const SAID: Readonly<Record<number, string>> = {
  400: 'the request cannot be read',
  404: 'there is nothing at this address',
  413: 'the request is too large',
  500: 'the server failed',
}

/** The server: serves the app and the stand-ins of market and carrier. It keeps nothing of the user's. */
export function createApp({ dist, seed, latency }: ServerOptions): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'", "'wasm-unsafe-eval'"],
          'worker-src': ["'self'"],
          'connect-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'"],
          'manifest-src': ["'self'"],
          'object-src': ["'none'"],
          'base-uri': ["'self'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use(compression())
  app.get('/api/health', (_req, res) => {
    res.json({ ok: true })
  })
  /** A question to a stand-in: refused in words where it does not fit, answered after the time such a service takes. */
  const standIn = <S extends v.GenericSchema>(
    path: string,
    schema: S,
    answer: (request: v.InferOutput<S>) => unknown,
  ) =>
    app.post(
      path,
      rateLimit({ windowMs: 60_000, limit: 120, standardHeaders: true, legacyHeaders: false }),
      express.json({ limit: '2mb' }),
      async (req: Request, res: Response) => {
        const request = v.safeParse(schema, req.body)
        if (!request.success) {
          const [issue] = request.issues
          res.status(400).json({ error: `${v.getDotPath(issue) ?? 'request'}: ${issue.message}`.slice(0, 300) })
          return
        }
        const length = Number(req.headers['content-length'] ?? 0)
        if (latency > 0) await new Promise((done) => setTimeout(done, latency / 2 + (hash(length) % latency) / 2))
        res.json(answer(request.output))
      },
    )
  standIn('/api/market/offers', OffersRequestSchema, (request) => offersFor(request, seed, request.day))
  standIn('/api/market/copies', CopiesRequestSchema, (request) => copiesFor(request, seed, request.day))
  standIn('/api/carrier/track', CarrierRequestSchema, (request) => trackParcels(request, seed))
  app.use('/api', (_req, res) => {
    res.status(404).json({ error: 'there is no such route' })
  })
  app.use(
    '/assets',
    precompressed(join(dist, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gzip'],
      serveStatic: { immutable: true, maxAge: '1y', fallthrough: false },
    }),
  )
  app.use(express.static(dist, { index: false, maxAge: 0 }))
  app.get('/{*any}', (_req, res) => {
    const page = join(dist, 'index.html')
    if (existsSync(page)) res.sendFile(page)
    else res.status(503).send('The app is not built yet: run "npm run build".')
  })
  app.use((error: Error & { status?: number }, _req: Request, res: Response, _next: NextFunction) => {
    // What an error says may name files of this machine: answers say what its status means and no more.
    const known = Number.isInteger(error.status) && STATUS_CODES[error.status ?? 0] !== undefined
    const status = known ? (error.status ?? 500) : 500
    res.status(status).json({ error: SAID[status] ?? STATUS_CODES[status]?.toLowerCase() ?? 'the server failed' })
  })
  return app
}
