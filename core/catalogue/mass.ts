import type { Family } from './shape.ts'

/**
 * Estimated mass of one piece in integer milligrams, from its footprint A (studs²), perimeter P (studs) and height
 * (plates). The shells are fitted to four weights that are common practice (recalled from memory, ±15 %):
 * brick 1x1 0.43 g, brick 2x4 2.3 g, plate 1x1 0.19 g, plate 2x4 1.1 g. Special shapes take a share of the box.
 */
export function estimateMass(family: Family, width: number, length: number, height: number): number {
  const fixed = FIXED[family]
  if (fixed !== undefined) return Math.round(fixed * Math.max(1, family === 'rod' || family === 'hose' ? length : 1))
  const w = width || 1
  const l = length || 1
  const area = w * l
  const perimeter = 2 * (w + l)
  const plate = 106 * area + 21 * perimeter
  const brick = 206 * area + 56 * perimeter
  const box = plate + ((brick - plate) * (Math.max(height, 1) - 1)) / 2
  return Math.max(50, Math.round(box * (SHARE[family] ?? 1)))
}

const SHARE: Partial<Record<Family, number>> = {
  slope: 0.7,
  'inverted slope': 0.75,
  wedge: 0.7,
  'wedge plate': 0.75,
  'round brick': 0.8,
  'round plate': 0.8,
  'round tile': 0.75,
  tile: 0.95,
  cone: 0.6,
  dome: 0.5,
  arch: 0.6,
  panel: 0.4,
  door: 0.4,
  window: 0.4,
  fence: 0.45,
  ladder: 0.35,
  'base plate': 0.85,
}

const FIXED: Partial<Record<Family, number>> = {
  bar: 250,
  rod: 90,
  hose: 80,
  string: 150,
  plant: 500,
  wheel: 1100,
  gear: 700,
  'figure head': 640,
  'figure hair': 450,
  'figure hat': 420,
  'figure torso': 900,
  'figure arm': 110,
  'figure legs': 950,
  accessory: 300,
  'sticker sheet': 2500,
  sticker: 50,
}
