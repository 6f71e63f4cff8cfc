import { ClipboardCopy } from 'lucide-react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { claimAge, claimText, CLAIM_MOVES, isClaimOpen } from '../../../core/orders/claims.ts'
import { claimState, orderName, type Claim, type ClaimState, type Order } from '../../../core/orders/order.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { askAmount, settleClaim } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Field, MoneyInput } from '../../ui/fields.tsx'

const MOVE_WORDS: Readonly<Record<ClaimState, string>> = {
  open: 'Open it again',
  promised: 'Promised',
  'sent again': 'Sent again',
  refunded: 'Paid back',
  refused: 'Refused, or let go',
}

/** What was short, wrong, damaged or lost: what to tell the seller, and what came of it. Open ones first. */
export function ClaimsView({ orders, today }: { orders: readonly Order[]; today: string }) {
  const claims = orders
    .flatMap((order) => order.claims.map((claim) => ({ order, claim })))
    .sort((p, q) => Number(isClaimOpen(q.claim)) - Number(isClaimOpen(p.claim)) || q.order.number - p.order.number)
  if (claims.length === 0)
    return (
      <p className="max-w-xl text-sm text-soft">
        No claim. What is found short, wrong or damaged at check-in is claimed there; what is found out later at the
        table, on the line of its order.
      </p>
    )
  return (
    <ul aria-label="Claims" className="min-h-0 flex-1 divide-y divide-rule overflow-auto border-y border-rule text-sm">
      {claims.map(({ order, claim }) => (
        <ClaimRow key={`${order.id} ${claim.id}`} order={order} claim={claim} today={today} />
      ))}
    </ul>
  )
}

function ClaimRow({ order, claim, today }: { order: Order; claim: Claim; today: string }) {
  const { orders, nameItem } = useRecords()
  const state = claimState(claim)
  const age = claimAge(claim, today)
  const text = claimText(order, claim, (item) => nameItem(item).name)
  const settle = (to: ClaimState) => void settleClaim(order, claim, to, today, orders, claim.asked)
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_22rem] gap-6 py-3 max-[960px]:grid-cols-1">
      <div>
        <h2 className="font-semibold">
          <Link className="text-accent underline" to={`?view=orders&order=${encodeURIComponent(order.id)}`}>
            {orderName(order)}
          </Link>
          : {state}
          {isClaimOpen(claim) && age > 0 && `, no news for ${plural(age, 'day')}`}
        </h2>
        <pre className="mt-1 font-sans text-sm whitespace-pre-wrap">{text}</pre>
        <p className="mt-1 text-xs text-soft">
          {claim.history.map((h) => `${h.state} ${h.on}`).join(' · ')}
          {claim.refunded !== undefined && ` · ${formatMoney(claim.refunded, order.currency)} came back`}
        </p>
      </div>
      <div className="flex flex-wrap content-start items-end gap-2">
        <Field label={`Asked back, ${order.currency}`}>
          {(id) => (
            <MoneyInput
              id={id}
              className="w-28"
              value={claim.asked}
              currency={order.currency}
              disabled={state === 'refunded'}
              onCommit={(minor) => {
                if (minor !== null) void askAmount(order, claim, minor)
              }}
            />
          )}
        </Field>
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(text).then(
              () => toast.success('Copied the claim'),
              () => toast.error('The browser does not allow copying here.'),
            )
          }}
        >
          <ClipboardCopy size={14} aria-hidden="true" /> Copy for the seller
        </Button>
        <div className="flex w-full flex-wrap gap-2">
          {CLAIM_MOVES[state]
            .filter((to) => to !== 'sent again' || claim.lines.some((l) => l.line !== undefined))
            .map((to) => (
              <Button
                key={to}
                onClick={() => {
                  settle(to)
                }}
              >
                {MOVE_WORDS[to]}
                {to === 'refunded' && `: ${formatMoney(claim.asked, order.currency)}`}
              </Button>
            ))}
        </div>
      </div>
    </li>
  )
}
