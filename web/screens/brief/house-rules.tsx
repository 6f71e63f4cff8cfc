import { Fragment } from 'react'
import type { Build } from '../../../core/build/build.ts'
import type { Rules } from '../../../core/build/house-rules.ts'
import { PRESETS, presetOf } from '../../../core/build/presets.ts'
import { perform } from '../../store/perform.ts'
import { ruleChanges } from '../../store/rules.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field, MoneyInput, NumberInput, Tick } from '../../ui/fields.tsx'
import { FormFields } from './form-fields.tsx'
import { LevyFields } from './levy-fields.tsx'
import { RateFields } from './rate-fields.tsx'
import { PaletteChoice } from './palette-choice.tsx'
import { HOUSE_RULES, type RuleControl } from './rule-controls.ts'

type Change = (label: string, next: Partial<Rules>) => void

const Heading = ({ children }: { children: string }) => (
  <h3 className="col-span-2 border-b border-rule pt-2 text-sm font-semibold text-soft">{children}</h3>
)

/** The build's rules; each change takes effect in tally and plan at once and can be undone. */
export function HouseRules({ build, folded = false }: { build: Build; folded?: boolean }) {
  const { rules } = build
  const change: Change = (label, next) => void perform(label, ruleChanges(build, next, label))
  const single = (
    <>
      {HOUSE_RULES.map(({ heading, rules: controls }) => (
        <Fragment key={heading ?? ''}>
          {heading !== undefined && <Heading>{heading}</Heading>}
          {controls.map((control) => (
            <Fragment key={control.rule}>
              <RuleField control={control} build={build} onChange={change} />
              {control.rule === 'hiddenColours' &&
                (rules.colours === 'within the palette' || rules.hiddenColours === 'within the palette') && (
                  <PaletteChoice
                    build={build}
                    onChange={(palette) => {
                      change(`The palette has ${palette.length} colours`, { palette })
                    }}
                  />
                )}
              {control.rule === 'shipTo' && (
                <>
                  <LevyFields
                    build={build}
                    onChange={(label, levies) => {
                      change(label, { levies })
                    }}
                  />
                  <RateFields
                    build={build}
                    onChange={(label, rates) => {
                      change(label, { rates })
                    }}
                  />
                </>
              )}
            </Fragment>
          ))}
        </Fragment>
      ))}
      <Heading>Form</Heading>
      <FormFields
        form={rules.form}
        onChange={(label, form) => {
          change(label, { form })
        }}
      />
    </>
  )
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-4">
      <Schools rules={rules} onChange={change} />
      {folded ? (
        <details className="col-span-2">
          <summary className="cursor-pointer text-sm font-semibold">Every rule by itself</summary>
          <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4">{single}</div>
        </details>
      ) : (
        single
      )}
    </div>
  )
}

function Schools({ rules, onChange }: { rules: Rules; onChange: Change }) {
  const school = presetOf(rules)
  return (
    <div className="col-span-2 flex flex-col gap-1">
      <span className="text-sm font-semibold">Begin with</span>
      <div role="group" aria-label="Begin with" className="flex flex-wrap gap-2">
        {PRESETS.map((preset) => (
          <Button
            key={preset.name}
            title={preset.hint}
            look={school === preset.name ? 'primary' : 'plain'}
            aria-pressed={school === preset.name}
            onClick={() => {
              onChange(preset.name, preset.rules)
            }}
          >
            {preset.name}
          </Button>
        ))}
      </div>
      <p className="text-xs text-soft">
        {PRESETS.find((p) => p.name === school)?.hint ?? 'Your own mixture of rules.'}
      </p>
    </div>
  )
}

/** One rule with its explanation, by the control that its kind of value takes. */
function RuleField({ control, build, onChange }: { control: RuleControl; build: Build; onChange: Change }) {
  const { rules, currency } = build
  if (control.when && !control.when(rules)) return null
  const label = typeof control.label === 'string' ? control.label : control.label(currency)
  const set = (value: Rules[keyof Rules]) => {
    const said = control.said as (value: unknown, currency: string) => string
    onChange(said(value, currency), { [control.rule]: value })
  }
  if (control.control === 'tick')
    return (
      <div className="col-span-2">
        <Tick checked={rules[control.rule]} onChange={set}>
          {label}
        </Tick>
      </div>
    )
  const hint = typeof control.hint === 'string' ? control.hint : control.hint(rules)
  return (
    <div className={control.wide ? 'col-span-2' : undefined}>
      <Field label={label} hint={hint}>
        {(id) => <RuleInput id={id} control={control} build={build} onSet={set} />}
      </Field>
    </div>
  )
}

function RuleInput({
  id,
  control,
  build: { rules, currency },
  onSet,
}: {
  id: string
  control: Exclude<RuleControl, { control: 'tick' }>
  build: Build
  onSet: (value: Rules[keyof Rules]) => void
}) {
  switch (control.control) {
    case 'choice':
      return (
        <Choice
          id={id}
          value={rules[control.rule] as string}
          options={control.options}
          onChange={(value) => {
            onSet(value as Rules[typeof control.rule])
          }}
        />
      )
    case 'country':
      return (
        <CommitInput
          id={id}
          value={rules.shipTo}
          maxLength={2}
          onCommit={(text) => {
            if (!/^[a-z]{2}$/i.test(text)) return { problem: 'Two letters, such as AT.' }
            onSet(text.toUpperCase())
            return undefined
          }}
        />
      )
    case 'number':
    case 'money': {
      const { rule, empty } = control
      const value = rules[rule]
      const optional = empty === undefined ? {} : { empty }
      const onCommit = (next: number | null) => {
        // A rule without a word for none needs a number.
        if (next !== null || empty !== undefined) onSet(next)
      }
      return control.control === 'money' ? (
        <MoneyInput id={id} value={value} currency={currency} onCommit={onCommit} {...optional} />
      ) : (
        <NumberInput id={id} value={value} min={control.min} max={control.max} onCommit={onCommit} {...optional} />
      )
    }
  }
}
