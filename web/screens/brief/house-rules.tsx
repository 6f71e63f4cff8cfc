import { type Build } from '../../../core/build/build.ts'
import { AIMS, STICKER_RULES, type Rules } from '../../../core/build/house-rules.ts'
import { PRESETS, presetOf } from '../../../core/build/presets.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { formatMoney } from '../../../core/units/money.ts'
import { Choice, CommitInput, Field, MoneyInput, NumberInput, Tick } from '../../ui/fields.tsx'
import { FormFields } from './form-fields.tsx'
import { PaletteChoice } from './palette-choice.tsx'

const AIM_HINTS: Record<Rules['aim'], string> = {
  'least spending': 'Stand-ins that are at hand come before anything bought.',
  'least compromise': 'Best condition first; what a shop sells is bought rather than replaced by a stand-in.',
  'use up the donors': 'As many pieces as possible from the boxes, stand-ins too, before the shelf is touched.',
}
const COLOUR_HINTS: Record<Rules['colours'], string> = {
  exact: 'A piece in another colour never stands in.',
  near: 'A colour that hardly differs stands in anywhere; how far it may differ is set below.',
  'free where hidden': 'Lines marked hidden in the design take any colour there is.',
  'within the palette': 'Any colour of the palette stands in for another, the most plentiful first.',
}
const STICKER_HINTS: Record<Rules['stickers'], string> = {
  applied: 'A stickered piece, or a plain one with its loose sticker.',
  reused: 'As applied; a stickered piece may also lose its sticker to serve as a plain one.',
  'left off': 'Plain pieces will do, and stickered ones once peeled.',
  'custom prints': 'Plain pieces are printed; each print costs.',
}
const ALTERING_HINTS: Record<Rules['altering'], string> = {
  never: 'Hose and string must be as long as drawn.',
  lengths: 'A longer one is cut, or its slack taken up.',
  allowed: 'Bars and rods may be cut as well. Mind your fingers.',
}

const Heading = ({ children }: { children: string }) => (
  <h3 className="col-span-2 border-b border-rule pt-2 text-sm font-semibold text-soft">{children}</h3>
)

/** The build's rules; each change takes effect in tally and plan at once and can be undone. */
export function HouseRules({ build }: { build: Build }) {
  const { rules, currency } = build
  const school = presetOf(rules)
  const change = (label: string, next: Partial<Rules>) =>
    void perform(label, [edit('builds', build, { ...build, rules: { ...rules, ...next } })])
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
      <div className="col-span-2">
        <Field label="Aim" hint={AIM_HINTS[rules.aim]}>
          {(id) => (
            <Choice
              id={id}
              value={rules.aim}
              options={AIMS.map((value) => ({ value, label: value }))}
              onChange={(aim) => {
                change(`Aim: ${aim}`, { aim })
              }}
            />
          )}
        </Field>
      </div>
      <Heading>Colour and condition</Heading>
      <div className="col-span-2">
        <Field label="Colour" hint={COLOUR_HINTS[rules.colours]}>
          {(id) => (
            <Choice
              id={id}
              value={rules.colours}
              options={[
                { value: 'exact', label: 'exact everywhere' },
                { value: 'near', label: 'near colours will do' },
                { value: 'free where hidden', label: 'exact where seen, free where hidden' },
                { value: 'within the palette', label: 'free within a palette' },
              ]}
              onChange={(colours) => {
                change(`Colour: ${colours}`, { colours })
              }}
            />
          )}
        </Field>
      </div>
      {rules.colours === 'within the palette' && (
        <PaletteChoice
          build={build}
          onChange={(palette) => {
            change(`The palette has ${palette.length} colours`, { palette })
          }}
        />
      )}
      <div className="col-span-2">
        <Field
          label="Near means at most so far apart"
          hint="By CIEDE2000: under 2 is hardly seen, over 20 is another colour. Counts for lines whose colour may be near."
        >
          {(id) => (
            <NumberInput
              id={id}
              value={rules.nearLimit}
              min={1}
              max={40}
              onCommit={(n) => {
                if (n !== null) change(`Near means at most ${n} apart`, { nearLimit: n })
              }}
            />
          )}
        </Field>
      </div>
      <div className="col-span-2">
        <Field label="Other moulds" hint="Of the same family, size and hand; never where a line is structural.">
          {(id) => (
            <Choice
              id={id}
              value={rules.moulds}
              options={[
                { value: 'never', label: 'never' },
                { value: 'where hidden', label: 'allowed where hidden' },
                { value: 'anywhere', label: 'allowed anywhere' },
              ]}
              onChange={(moulds) => {
                change(`Other moulds: ${moulds}`, { moulds })
              }}
            />
          )}
        </Field>
      </div>
      <div className="col-span-2">
        <Field
          label="Splits"
          hint="Two smaller plates, tiles or bricks side by side for one, three plates for a brick; what is around must hold them."
        >
          {(id) => (
            <Choice
              id={id}
              value={rules.splits}
              options={[
                { value: 'never', label: 'never' },
                { value: 'where hidden', label: 'allowed where hidden' },
                { value: 'anywhere', label: 'allowed anywhere but in structural lines' },
                { value: 'structural too', label: 'allowed in structural lines as well' },
              ]}
              onChange={(splits) => {
                change(`Splits: ${splits}`, { splits })
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
      <div className="col-span-2">
        <Tick
          checked={rules.wornHidden}
          onChange={(wornHidden) => {
            change(wornHidden ? 'Worn pieces allowed where hidden' : 'Worn pieces as elsewhere', { wornHidden })
          }}
        >
          Worn pieces are allowed where they are hidden
        </Tick>
      </div>
      <Heading>Stickers, altering, other makers</Heading>
      <Field label="Stickers" hint={STICKER_HINTS[rules.stickers]}>
        {(id) => (
          <Choice
            id={id}
            value={rules.stickers}
            options={STICKER_RULES.map((value) => ({ value, label: value }))}
            onChange={(stickers) => {
              change(`Stickers: ${stickers}`, { stickers })
            }}
          />
        )}
      </Field>
      <Field label="Altering parts" hint={ALTERING_HINTS[rules.altering]}>
        {(id) => (
          <Choice
            id={id}
            value={rules.altering}
            options={[
              { value: 'never', label: 'never' },
              { value: 'lengths', label: 'hose and string only' },
              { value: 'allowed', label: 'allowed' },
            ]}
            onChange={(altering) => {
              change(`Altering parts: ${altering}`, { altering })
            }}
          />
        )}
      </Field>
      <div className="col-span-2">
        <Tick
          checked={rules.thirdParty}
          onChange={(thirdParty) => {
            change(thirdParty ? 'Third-party parts and prints allowed' : 'No third-party parts or prints', {
              thirdParty,
            })
          }}
        >
          Third-party parts and custom prints are allowed
        </Tick>
      </div>
      {(rules.thirdParty || rules.stickers === 'custom prints') && (
        <Field label={`One custom print costs, ${currency}`} hint="Counts in the total for each print called for.">
          {(id) => (
            <MoneyInput
              id={id}
              value={rules.printPrice}
              currency={currency}
              onCommit={(printPrice) => {
                if (printPrice !== null) change('Changed the price of a print', { printPrice })
              }}
            />
          )}
        </Field>
      )}
      <Heading>Money and time</Heading>
      <div className="col-span-2">
        <Field
          label={`A point of compromise is worth, ${currency}`}
          hint="A stand-in has 1 to 5 points or more; it is bought when it saves more than that."
        >
          {(id) => (
            <MoneyInput
              id={id}
              value={rules.pointPrice}
              currency={currency}
              onCommit={(pointPrice) => {
                if (pointPrice !== null) change('Changed the worth of a point of compromise', { pointPrice })
              }}
            />
          )}
        </Field>
      </div>
      <Field label={`Budget, ${currency}`} hint="The Brief and Buy say when the total is beyond it.">
        {(id) => (
          <MoneyInput
            id={id}
            value={rules.budget}
            currency={currency}
            empty="none set"
            onCommit={(budget) => {
              change(budget === null ? 'No budget' : `Budget ${formatMoney(budget, currency)}`, { budget })
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
      <Heading>Form</Heading>
      <FormFields
        form={rules.form}
        onChange={(label, form) => {
          change(label, { form })
        }}
      />
    </div>
  )
}
