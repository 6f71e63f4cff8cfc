import { fileURLToPath } from 'node:url'
import pino from 'pino'
import { createApp } from './app.ts'
import { readSettings } from './settings.ts'

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' })
const settings = readSettings(process.env)
if (typeof settings === 'string') {
  console.error(settings)
  process.exit(1)
}
const { port, latency } = settings
const app = createApp({
  dist: fileURLToPath(new URL('../dist', import.meta.url)),
  seed: 20261125,
  latency,
})
const server = app.listen(port, '127.0.0.1', (error?: Error) => {
  if (error) {
    log.error(error, 'cannot listen')
    if ('code' in error && error.code === 'EADDRINUSE')
      console.error(`Port ${port} is in use. Stop what runs there, or choose another: PORT=${port + 1} bin/demo`)
    process.exit(1)
  }
  console.log(`Unfinished Brick is at http://localhost:${port}${process.env['OPEN_PATH'] ?? '/'}`)
})
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => server.close(() => process.exit(0)))
