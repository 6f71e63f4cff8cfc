import type { Build, Rules } from '../../../core/planning/build.ts'
import { PRESETS, presetOf } from '../../../core/planning/presets.ts'
import { put } from '../../../storage/journal.ts'
import { perform } from '../../data/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field, NumberInput } from '../../ui/fields.tsx'

/** The build's rules; each change takes effect in tally and plan at once and can be undone. */
export function HouseRules({ build }: { build: Build }) {
  const { rules } = build
  const school = presetOf(rules)
  const change = (label: string, next: Partial<Rules>) =>
    void perform(label, [put('builds', [{ ...build, rules: { ...rules, ...next } }])])
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-4">
      <div className="col-span-2 flex flex-col gap-1">
        <span className="text-sm font-semibold">School</span>
        <div role="group" aria-label="School" className="flex flex-wrap gap-2">
          {PRESETS.map((preset) => (
            <Button
              key={preset.name}
              title={preset.hint}
              look={school === preset.name ? 'primary' : 'plain'}
              aria-pressed={school === preset.name}
              onClick={() => {
                change(preset.name, preset.rules)
              }}
            >
              {preset.name}
            </Button>
          ))}
        </div>
        <p className="text-xs text-soft">
          {PRESETS.find((p) => p.name === school)?.hint ?? 'The rules below are your own mixture.'}
        </p>
      </div>
      <div className="col-span-2">
        <Field label="Pieces may come from" hint="What is not allowed here is neither counted nor bought.">
          {(id) => (
            <Choice
              id={id}
              value={rules.sources}
              options={[
                { value: 'donors', label: 'the donor boxes only' },
                { value: 'donors and shelf', label: 'donor boxes and the shelf' },
                { value: 'donors, shelf and shops', label: 'donor boxes, the shelf and shops' },
              ]}
              onChange={(sources) => {
                change(`Pieces may come from ${sources}`, { sources })
              }}
            />
          )}
        </Field>
      </div>
      <Field label="Worst condition" hint="From the shelf and from shops.">
        {(id) => (
          <Choice
            id={id}
            value={rules.condition}
            options={[
              { value: 'new', label: 'new only' },
              { value: 'used', label: 'used allowed' },
              { value: 'worn', label: 'worn allowed' },
            ]}
            onChange={(condition) => {
              change(`Worst condition: ${condition}`, { condition })
            }}
          />
        )}
      </Field>
      <Field label="An estimate counts, %" hint="“About 60” at 75% counts as 45.">
        {(id) => (
          <NumberInput
            id={id}
            value={rules.estimatePercent}
            min={0}
            max={100}
            onCommit={(n) => {
              if (n !== null) change(`Estimates count ${n}%`, { estimatePercent: n })
            }}
          />
        )}
      </Field>
      <Field label="At most so many shops" hint="The counter counts as one.">
        {(id) => (
          <NumberInput
            id={id}
            value={rules.maxShops}
            min={1}
            max={200}
            empty="any number"
            onCommit={(maxShops) => {
              change(maxShops === null ? 'Any number of shops' : `At most ${maxShops} shops`, { maxShops })
            }}
          />
        )}
      </Field>
      <Field label="Needed within, days" hint="Slower shops are left out.">
        {(id) => (
          <NumberInput
            id={id}
            value={rules.deadlineDays}
            min={1}
            max={1000}
            empty="no hurry"
            onCommit={(deadlineDays) => {
              change(deadlineDays === null ? 'No deadline' : `Needed within ${deadlineDays} days`, { deadlineDays })
            }}
          />
        )}
      </Field>
      <Field label="Ship to" hint="Two-letter country code.">
        {(id) => (
          <CommitInput
            id={id}
            value={rules.shipTo}
            maxLength={2}
            onCommit={(text) => {
              if (/^[a-z]{2}$/i.test(text)) change(`Ship to ${text.toUpperCase()}`, { shipTo: text.toUpperCase() })
            }}
          />
        )}
      </Field>
      <Field label="Import charge, %" hint="Your own rate on parcels from other countries; ask the customs authority.">
        {(id) => (
          <NumberInput
            id={id}
            value={rules.importPercent}
            min={0}
            max={100}
            onCommit={(n) => {
              if (n !== null) change(`Import charge ${n}%`, { importPercent: n })
            }}
          />
        )}
      </Field>
      <Field label="Leftovers resell at, %" hint="Of the median offer; credits surplus of bought copies.">
        {(id) => (
          <NumberInput
            id={id}
            value={rules.resalePercent}
            min={0}
            max={100}
            onCommit={(n) => {
              if (n !== null) change(`Leftovers resell at ${n}%`, { resalePercent: n })
            }}
          />
        )}
      </Field>
    </div>
  )
}
