import { register } from 'tsx/esm/api'

// A thread does not read TypeScript because the one that starts it does.
register()
await import('./prover.ts')
