import { useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { apart } from '../../../core/making/finish.ts'
import { takeApart } from '../../../core/making/take-apart.ts'
import { OUT_OF_MODELS } from '../../../core/making/put-in.ts'
import type { Place } from '../../../core/shelf/place.ts'
import { addUp } from '../../../core/units/quantity.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { add, rearrange } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { makingEdit, unitChanges } from '../../store/making.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { toast } from 'sonner'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, NumberInput } from '../../ui/fields.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import type { MakeView } from './make-view.ts'

/** Models that this build takes pieces of, and those that it became: each can be taken apart. */
export function Models(view: MakeView) {
  const { places, units, holdings } = useRecords()
  const { tally, at } = view
  const [chosen, setChosen] = useState<Place | undefined>()
  const taken = new Map<PlaceId, number>()
  for (const line of tally.result.lines)
    for (const { source, qty } of line.pegs)
      if (source.kind === 'shelf' && source.state.kind === 'model')
        taken.set(source.state.model.id, (taken.get(source.state.model.id) ?? 0) + qty)
  const own = new Set(at.units.flatMap((u) => u.standsIn ?? []))
  const models = places.filter((p) => taken.has(p.id) || own.has(p.id))
  if (models.length === 0) return null
  const piecesIn = (place: PlaceId) => holdings.reduce((n, h) => n + (h.place === place ? h.qty : 0), 0)
  return (
    <section aria-label="Models" className="no-print border-t border-rule pt-2">
      <h2 className="font-display text-base font-medium">Models</h2>
      <ul className="divide-y divide-hair">
        {models.map((place) => (
          <li key={place.id} className="flex flex-wrap items-center gap-3 py-1.5">
            <span className="flex-1">
              <b>{place.name}</b>: {plural(piecesIn(place.id), 'piece')}
              {taken.has(place.id) && `, of which this build takes ${formatNumber(taken.get(place.id) ?? 0)}`}
              {own.has(place.id) && ', built here'}
            </span>
            <Button
              onClick={() => {
                setChosen(place)
              }}
            >
              Take it apart
            </Button>
          </li>
        ))}
      </ul>
      {chosen && (
        <ApartDialog
          model={chosen}
          ofBuilds={units.filter((u) => u.standsIn === chosen.id).length}
          view={view}
          onClose={() => {
            setChosen(undefined)
          }}
        />
      )}
    </section>
  )
}

/** A model taken apart into a place, with what is lost or broken typed in. */
function ApartDialog({
  model,
  ofBuilds,
  view,
  onClose,
}: {
  model: Place
  ofBuilds: number
  view: MakeView
  onClose: () => void
}) {
  const { holdings, places, units, makings } = useRecords()
  const inside = holdings.filter((h) => h.place === model.id)
  const items = addUp(inside)
  const shown = useGrowing(items)
  const boxes = places.filter((p) => p.kind !== 'model' && p.kind !== 'post' && p.kind !== 'promise')
  const [to, setTo] = useState<string>(boxes[0]?.id ?? OUT_OF_MODELS.id)
  const [lost, setLost] = useState<ReadonlyMap<ItemKey, number>>(new Map())
  const [damaged, setDamaged] = useState<ReadonlyMap<ItemKey, number>>(new Map())
  const list = (of: ReadonlyMap<ItemKey, number>) =>
    [...of].map(([item, qty]) => ({ item, qty })).filter((p) => p.qty > 0)
  const done = () => {
    const change = takeApart(inside, to as PlaceId, { lost: list(lost), damaged: list(damaged) }, holdings, fresh)
    if (!change.ok) {
      toast.error(change.error.message)
      return
    }
    const making = makings.find((m) => m.finished?.place === model.id)
    const { finished: _, ...open } = making ?? view.at.making
    void perform(`Took ${model.name} apart`, [
      ...(to === OUT_OF_MODELS.id ? [add('places', [OUT_OF_MODELS])] : []),
      ...rearrange(holdings, change.value),
      ...unitChanges(units, apart(units, model.id)),
      ...(making ? makingEdit(making, open) : []),
    ])
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      wide
      title={`Take ${model.name} apart`}
      description="Its pieces lie loose afterwards; what is lost or broken is written here."
    >
      <div className="at-table flex min-h-0 flex-1 flex-col gap-3 text-sm">
        {ofBuilds > 0 && (
          <p role="status" className="border-l-4 border-warn bg-raised px-3 py-2">
            {plural(ofBuilds, 'built repeat')} of builds stand in it: they are to be built again.
          </p>
        )}
        <div className="flex flex-wrap items-end gap-3">
          <Field label="Where its pieces go">
            {(id) => (
              <Choice
                id={id}
                className="max-w-72"
                value={to}
                options={[
                  ...boxes.map((p) => ({ value: p.id as string, label: p.name })),
                  ...(boxes.some((p) => p.id === OUT_OF_MODELS.id)
                    ? []
                    : [{ value: OUT_OF_MODELS.id as string, label: OUT_OF_MODELS.name }]),
                ]}
                onChange={setTo}
              />
            )}
          </Field>
          <Button look="primary" onClick={done}>
            It is apart
          </Button>
        </div>
        <table aria-label="What it held" className="[&_td]:py-1">
          <thead>
            <tr className="border-b border-rule text-left text-xs text-soft">
              <th className="py-1 font-semibold">Piece</th>
              <th className="text-right font-semibold">Held</th>
              <th className="pl-4 font-semibold">Lost</th>
              <th className="pl-4 font-semibold">Broken or worn</th>
            </tr>
          </thead>
          <tbody>
            {shown.map(({ item, qty }) => (
              <tr key={item} className="border-b border-hair">
                <td>
                  <ItemName item={item} size={28} />
                </td>
                <td className="text-right">{qty}</td>
                <td className="pl-4">
                  <NumberInput
                    aria-label="Lost"
                    className="w-16"
                    value={lost.get(item) ?? 0}
                    min={0}
                    max={qty}
                    onCommit={(n) => {
                      setLost(new Map(lost).set(item, n ?? 0))
                    }}
                  />
                </td>
                <td className="pl-4">
                  <NumberInput
                    aria-label="Broken or worn"
                    className="w-16"
                    value={damaged.get(item) ?? 0}
                    min={0}
                    max={qty}
                    onCommit={(n) => {
                      setDamaged(new Map(damaged).set(item, n ?? 0))
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Dialog>
  )
}
