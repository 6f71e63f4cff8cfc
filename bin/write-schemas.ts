import { readFileSync, writeFileSync } from 'node:fs'
import { toJsonSchema } from '@valibot/to-json-schema'
import { format } from 'prettier'
import { JobFileSchema } from '../core/formats/job-file.ts'
import { NettingPlanSchema, NettingProblemSchema } from '../core/netting/problem.ts'
import { SourcingProblemSchema } from '../core/sourcing/problem.ts'
import { SourcingPlanSchema } from '../core/sourcing/plan.ts'

/** Writes the JSON Schemas of the exchange formats; with --check only compares and exits 1 when one is out of date. */
const SCHEMAS = {
  'job-file': JobFileSchema,
  'netting-problem': NettingProblemSchema,
  'netting-plan': NettingPlanSchema,
  'sourcing-problem': SourcingProblemSchema,
  'sourcing-plan': SourcingPlanSchema,
}
const check = process.argv.includes('--check')
let stale = 0
for (const [name, schema] of Object.entries(SCHEMAS)) {
  const file = new URL(`../docs/formats/${name}.schema.json`, import.meta.url)
  const json = toJsonSchema(schema, { typeMode: 'input', errorMode: 'ignore' })
  const text = await format(JSON.stringify(json), { parser: 'json', printWidth: 120 })
  if (!check) writeFileSync(file, text)
  else if (readFileSync(file, 'utf8') !== text) {
    console.error(`docs/formats/${name}.schema.json is out of date: run "npm run schemas"`)
    stale++
  }
}
process.exit(stale > 0 ? 1 : 0)
