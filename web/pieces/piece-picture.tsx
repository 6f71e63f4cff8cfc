import { memo } from 'react'
import type { Finish } from '../../core/colours/colour.ts'
import type { Shape } from '../../core/catalogue/shape.ts'
import { drawPiece, type Stroke } from './piece-drawing.ts'

/** A piece drawn in its real shape and colour; a neutral tile when the shape is unknown. Decorative: its name is beside it. */
export const PiecePicture = memo(function PiecePicture({
  shape,
  hex,
  finish,
  size = 36,
}: {
  shape: Shape
  hex: string
  finish: Finish
  size?: number
}) {
  const drawing = drawPiece(shape)
  return (
    <svg
      aria-hidden="true"
      width={size}
      height={size}
      viewBox={drawing.viewBox}
      className="shrink-0"
      data-family={shape.family}
    >
      {drawing.strokes.map((stroke, i) => (
        <path
          key={i}
          {...paint(stroke, hex, finish)}
          d={stroke.d}
          strokeLinejoin="round"
          strokeLinecap="round"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  )
})

function paint(stroke: Stroke, hex: string, finish: Finish) {
  const edge = edgeOf(hex)
  if (stroke.tone === 'line') return { fill: 'none', stroke: edge, strokeWidth: 1 }
  if (stroke.tone === 'ghost') return { fill: 'none', stroke: 'var(--soft)', strokeWidth: 0.8, strokeOpacity: 0.7 }
  if (stroke.tone === 'rope') return { fill: 'none', stroke: hex, strokeWidth: stroke.width ?? 3 }
  if (stroke.tone === 'rope edge') return { fill: 'none', stroke: edge, strokeWidth: (stroke.width ?? 3) + 1.6 }
  if (stroke.tone === 'glass') return { fill: 'var(--sheet)', fillOpacity: 0.75, stroke: edge, strokeWidth: 0.7 }
  if (stroke.tone === 'neutral') return { fill: 'var(--raised)', stroke: 'var(--soft)', strokeWidth: 1 }
  const shine = finish === 'metal' || finish === 'shimmer'
  const light = { top: shine ? 0.3 : 0.12, left: 0, right: shine ? -0.32 : -0.2 }[stroke.tone]
  return {
    fill: mix(hex, light),
    fillOpacity: finish === 'clear' ? 0.6 : 1,
    stroke: edge,
    strokeWidth: 0.7,
    ...(finish === 'glow' ? { strokeDasharray: '2 1.4' } : {}),
  }
}

/** Towards white for positive amounts, towards black for negative ones. */
function mix(hex: string, amount: number): string {
  const target = amount > 0 ? 255 : 0
  const part = (i: number) => {
    const c = parseInt(hex.slice(i, i + 2), 16)
    return Math.round(c + (target - c) * Math.abs(amount))
  }
  return `rgb(${part(1)} ${part(3)} ${part(5)})`
}

/** An edge that stands out on the colour: darker on light pieces, lighter on dark ones. */
function edgeOf(hex: string): string {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b < 80 ? mix(hex, 0.45) : mix(hex, -0.5)
}
