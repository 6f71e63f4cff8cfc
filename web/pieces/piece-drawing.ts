import type { Shape } from '../../core/catalogue/shape.ts'

/** One path of a piece's picture. Tones `top`, `left`, `right` are faces in the piece's colour. */
export type Stroke = {
  readonly d: string
  readonly tone: 'top' | 'left' | 'right' | 'line' | 'ghost' | 'rope' | 'rope edge' | 'glass' | 'neutral'
  readonly width?: number
}
export type Drawing = { readonly viewBox: string; readonly strokes: readonly Stroke[] }

type P3 = readonly [number, number, number]
type P2 = readonly [number, number]

const PLATE = 0.4 // a plate's height in studs (3.2 mm of 8 mm)

/** Isometric: x runs right and down, y left and down, z up; in studs. */
const iso = ([x, y, z]: P3): P2 => [(x - y) * 0.866, (x + y) * 0.5 - z]

class Sketch {
  readonly strokes: Stroke[] = []
  #box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity }

  flat(points: readonly P2[], tone: Stroke['tone'], closed = true, width?: number) {
    for (const [x, y] of points) {
      this.#box = {
        x0: Math.min(this.#box.x0, x),
        y0: Math.min(this.#box.y0, y),
        x1: Math.max(this.#box.x1, x),
        y1: Math.max(this.#box.y1, y),
      }
    }
    const d =
      points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(2)} ${y.toFixed(2)}`).join('') + (closed ? 'Z' : '')
    this.strokes.push(width === undefined ? { d, tone } : { d, tone, width })
  }

  face(points: readonly P3[], tone: Stroke['tone'], closed = true) {
    this.flat(points.map(iso), tone, closed)
  }

  ellipse([cx, cy]: P2, rx: number, ry: number, tone: Stroke['tone']) {
    this.flat(
      Array.from({ length: 28 }, (_, i) => {
        const t = (i / 28) * 2 * Math.PI
        return [cx + rx * Math.cos(t), cy + ry * Math.sin(t)] as const
      }),
      tone,
    )
  }

  /** A ground outline raised from z0 to z1; sides that face the viewer are drawn, then the top. */
  prism(outline: readonly P2[], z0: number, z1: number) {
    for (const [i, [ax, ay]] of outline.entries()) {
      const [bx, by] = outline[(i + 1) % outline.length] ?? [ax, ay]
      const [nx, ny] = [by - ay, ax - bx]
      if (nx + ny <= 1e-9) continue
      this.face(
        [
          [ax, ay, z0],
          [bx, by, z0],
          [bx, by, z1],
          [ax, ay, z1],
        ],
        nx > ny ? 'right' : 'left',
      )
    }
    this.face(
      outline.map(([x, y]) => [x, y, z1] as const),
      'top',
    )
  }

  box(a: number, b: number, z0: number, z1: number, x = 0, y = 0) {
    this.prism(
      [
        [x, y],
        [x + a, y],
        [x + a, y + b],
        [x, y + b],
      ],
      z0,
      z1,
    )
  }

  /** A side profile in (y, z), drawn out along x. Its points run from the back bottom over the front to the back top. */
  extrusion(profile: readonly P2[], a: number) {
    for (const [i, [y, z]] of profile.entries()) {
      const next = profile[i + 1]
      if (!next) break
      const [y2, z2] = next
      if (z2 === z && z === 0) continue
      if (y2 > y && z2 >= z && i === 0) continue
      this.face(
        [
          [0, y, z],
          [a, y, z],
          [a, y2, z2],
          [0, y2, z2],
        ],
        z2 > z && y2 === y ? 'left' : z2 === z ? 'top' : 'left',
      )
    }
    this.face(
      profile.map(([y, z]) => [a, y, z] as const),
      'right',
    )
  }

  stud(x: number, y: number, z: number) {
    const [cx, cy] = iso([x, y, z])
    const [rx, ry] = [0.3 * 1.2247, 0.3 * 0.7071]
    this.ellipse([cx, cy], rx, ry, 'left')
    this.ellipse([cx, cy - 0.17], rx, ry, 'top')
  }

  studs(a: number, b: number, z: number, x = 0, y = 0) {
    const many = a * b > 48
    for (let i = 0; i + 0.5 < a; i++)
      for (let j = 0; j + 0.5 < b; j++)
        if (many) this.ellipse(iso([x + i + 0.5, y + j + 0.5, z + 0.1]), 0.3 * 1.2247, 0.3 * 0.7071, 'top')
        else this.stud(x + i + 0.5, y + j + 0.5, z)
  }

  cylinder(x: number, y: number, r: number, z0: number, z1: number, topR = r) {
    const [cx, cy] = iso([x, y, z0])
    const [k, m] = [1.2247, 0.7071]
    const arc = (radius: number, dy: number, from: number, to: number): P2[] =>
      Array.from({ length: 15 }, (_, i) => {
        const t = from + ((to - from) * i) / 14
        return [cx + radius * k * Math.cos(t), cy + dy + radius * m * Math.sin(t)] as const
      })
    const dz = -(z1 - z0)
    this.flat([...arc(r, 0, Math.PI, Math.PI / 2), ...arc(topR, dz, Math.PI / 2, Math.PI)], 'left')
    this.flat([...arc(r, 0, Math.PI / 2, 0), ...arc(topR, dz, 0, Math.PI / 2)], 'right')
    if (topR > 0.02) this.ellipse([cx, cy + dz], topR * k, topR * m, 'top')
  }

  drawing(): Drawing {
    const { x0, y0, x1, y1 } = this.#box
    const side = Math.max(x1 - x0, y1 - y0, 1.6) * 1.08
    const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2]
    return {
      viewBox: [mx - side / 2, my - side / 2, side, side].map((n) => n.toFixed(2)).join(' '),
      strokes: this.strokes,
    }
  }
}

const cache = new Map<string, Drawing>()

/** The picture of a shape; drawn once per shape. */
export function drawPiece(shape: Shape): Drawing {
  const key = `${shape.family}|${shape.width}|${shape.length}|${shape.height}|${shape.hand}|${shape.angle ?? ''}`
  const known = cache.get(key)
  if (known) return known
  const sketch = new Sketch()
  draw(sketch, shape)
  const drawing = sketch.drawing()
  cache.set(key, drawing)
  return drawing
}

/** What a drawing is made of: the shape, its length and width in studs as drawn, and its height. */
type Measures = { readonly shape: Shape; readonly a: number; readonly b: number; readonly h: number }

function draw(s: Sketch, shape: Shape): void {
  // Very long shapes keep a readable thickness: they are drawn shortened.
  const b = Math.min(shape.width || 1, 16)
  const a = Math.min(shape.length || 1, 16)
  const h = shape.height * PLATE
  DRAWINGS[shape.family](s, { shape, a, b, h })
}

function drawBrick(s: Sketch, { a, b, h }: Measures): void {
  s.box(a, b, 0, h)
  s.studs(a, b, h)
}

function drawBasePlate(s: Sketch, { a, b }: Measures): void {
  s.box(a, b, 0, 0.2)
  for (let i = 2; i < a; i += 2)
    s.face(
      [
        [i, 0, 0.2],
        [i, b, 0.2],
      ],
      'line',
      false,
    )
  for (let j = 2; j < b; j += 2)
    s.face(
      [
        [0, j, 0.2],
        [a, j, 0.2],
      ],
      'line',
      false,
    )
}

function drawTile(s: Sketch, { a, b, h }: Measures): void {
  s.box(a, b, 0, 0.08)
  s.box(a, b, 0.08, h)
}

function drawSlope(s: Sketch, { shape, a, b, h }: Measures): void {
  const depth = Math.max(a, 1)
  const flat = depth > 1 && (shape.angle ?? 45) >= 40 ? 1 : 0
  s.extrusion(
    [
      [0, 0],
      [depth, 0],
      [depth, 0.15],
      [flat, h],
      [0, h],
    ],
    b,
  )
  s.studs(b, flat, h)
}

function drawInvertedSlope(s: Sketch, { a, b, h }: Measures): void {
  s.extrusion(
    [
      [0, 0],
      [1, 0],
      [Math.max(a, 1.5), h - 0.25],
      [Math.max(a, 1.5), h],
      [0, h],
    ],
    b,
  )
  s.studs(b, Math.max(a, 1), h)
}

function drawWedge(s: Sketch, { shape, a, b, h }: Measures): void {
  const cut = shape.hand === 'left' ? 'left' : 'right'
  const tip = Math.max(0.5, b * 0.35)
  s.prism(
    cut === 'right'
      ? [
          [0, 0],
          [a, 0],
          [a, tip],
          [0, b],
        ]
      : [
          [0, b - tip],
          [a, 0],
          [a, b],
          [0, b],
        ].map(([x, y]) => [x ?? 0, y ?? 0] as const),
    0,
    h,
  )
  for (let i = 0; i < a; i++) s.stud(i + 0.5, cut === 'right' ? 0.45 : b - 0.45, h)
}

function drawRoundBrick(s: Sketch, { shape, a, b, h }: Measures): void {
  s.cylinder(a / 2, b / 2, Math.min(a, b) / 2, 0, h)
  if (shape.family !== 'round tile') {
    const inset = a > 2 ? 1 : 0
    if (a === 1) s.stud(0.5, 0.5, h)
    else s.studs(a - 2 * inset, b - 2 * inset, h, inset, inset)
  }
}

function drawCone(s: Sketch, { a, b, h }: Measures): void {
  s.cylinder(a / 2, b / 2, a / 2, 0, h, a * 0.24)
}

function drawDome(s: Sketch, { a, b }: Measures): void {
  const r = a / 2
  for (let k = 0; k < 6; k++) {
    const [t0, t1] = [(k / 6) * (Math.PI / 2), ((k + 1) / 6) * (Math.PI / 2)]
    s.cylinder(a / 2, b / 2, r * Math.cos(t0), r * Math.sin(t0), r * Math.sin(t1), r * Math.cos(t1))
  }
}

function drawArch(s: Sketch, { a, b, h }: Measures): void {
  const r = Math.max(0.3, a / 2 - 1)
  const rise = Math.min(h - 0.25, r)
  const arc = Array.from({ length: 13 }, (_, i) => {
    const t = Math.PI - (i / 12) * Math.PI
    return [a / 2 + r * Math.cos(t), b, rise * Math.sin(t)] as P3
  })
  s.face(
    [
      [0, 0, h],
      [a, 0, h],
      [a, b, h],
      [0, b, h],
    ],
    'top',
  )
  s.face(
    [
      [a, 0, 0],
      [a, b, 0],
      [a, b, h],
      [a, 0, h],
    ],
    'right',
  )
  s.face([[0, b, 0], ...arc, [a, b, 0], [a, b, h], [0, b, h]], 'left')
  s.studs(a, b, h)
}

function drawPanel(s: Sketch, { a, b, h }: Measures): void {
  s.box(a, Math.max(b, 1), 0, 0.3)
  s.box(a, 0.3, 0.3, h)
}

function drawDoor(s: Sketch, { shape, a, h }: Measures): void {
  s.box(a, 0.6, 0, h)
  s.face(
    [
      [0.25, 0.6, 0.3],
      [a - 0.25, 0.6, 0.3],
      [a - 0.25, 0.6, h - 0.3],
      [0.25, 0.6, h - 0.3],
    ],
    'glass',
  )
  if (shape.family === 'window') {
    s.face(
      [
        [a / 2, 0.6, 0.3],
        [a / 2, 0.6, h - 0.3],
      ],
      'line',
      false,
    )
    s.face(
      [
        [0.25, 0.6, h / 2],
        [a - 0.25, 0.6, h / 2],
      ],
      'line',
      false,
    )
  } else s.ellipse(iso([a - 0.5, 0.6, h * 0.45]), 0.14, 0.14, 'left')
}

function drawBar(s: Sketch, { shape, a }: Measures): void {
  const length = Math.max(2, Math.min(a, 8))
  for (const tone of ['rope edge', 'rope'] as const)
    s.flat([iso([0, 0, 0]), iso([length, 0, 0])], tone, false, shape.family === 'rod' ? 5 : 4)
  if (shape.family === 'rod')
    for (let i = 0; i <= length; i += 0.5) s.flat([iso([i, -0.12, 0]), iso([i, 0.12, 0])], 'line', false)
}

function drawHose(s: Sketch, { shape }: Measures): void {
  const points = Array.from({ length: 33 }, (_, i) => {
    const t = i / 32
    return shape.family === 'hose'
      ? ([t * 3, -Math.sin(t * Math.PI) * 1.4] as const)
      : ([t * 3, Math.sin(t * 4 * Math.PI) * 0.5 + t] as const)
  })
  const width = shape.family === 'hose' ? 5 : 2
  for (const tone of ['rope edge', 'rope'] as const) s.flat(points, tone, false, width)
}

function drawPlant(s: Sketch, { shape }: Measures): void {
  if (shape.height > 6 || shape.width > 1) s.cylinder(1, 1, 0.25, 0, 0.6)
  for (const [z, r] of [
    [0.4, 1.1],
    [1.2, 0.85],
    [2, 0.55],
  ] as const) {
    const [cx, cy] = iso([1, 1, z])
    s.flat(
      [
        [cx - r * 1.1, cy],
        [cx, cy - r * 1.5],
        [cx, cy + r * 0.3],
      ],
      'left',
    )
    s.flat(
      [
        [cx + r * 1.1, cy],
        [cx, cy - r * 1.5],
        [cx, cy + r * 0.3],
      ],
      'right',
    )
  }
}

function drawBracket(s: Sketch, { a, b }: Measures): void {
  s.box(a, b, 0, PLATE)
  s.box(a, 0.25, PLATE - 1, PLATE, 0, b)
  s.studs(a, b, PLATE)
}

function drawHinge(s: Sketch, { a, b, h }: Measures): void {
  s.box(a, Math.max(b, 1), 0, h)
  s.cylinder(0.3, 0.5, 0.3, h, h + 0.5)
  s.studs(Math.max(0, a - 1), b, h, 1)
}

function drawClipPlate(s: Sketch, { a, b }: Measures): void {
  s.box(a, b, 0, PLATE)
  s.studs(a, b, PLATE)
  s.box(0.2, 0.4, 0, 0.7, a * 0.2, b)
  s.box(0.2, 0.4, 0, 0.7, a * 0.2 + 0.45, b)
}

function drawFence(s: Sketch, { a }: Measures): void {
  s.box(a, 0.4, 0, 0.3)
  for (let i = 0; i < a; i++) s.box(0.25, 0.25, 0.3, 2, i + 0.35, 0.05)
  s.box(a, 0.4, 2, 2.3)
}

function drawLadder(s: Sketch): void {
  for (let k = 0; k < 5; k++) s.box(1.2, 0.2, 0.3 + k * 0.7, 0.5 + k * 0.7, 0.2)
  s.box(0.2, 0.2, 0, 3.8)
  s.box(0.2, 0.2, 0, 3.8, 1.4)
}

function drawWheel(s: Sketch): void {
  s.ellipse([0, 0], 1, 1, 'right')
  s.ellipse([-0.15, -0.05], 0.85, 0.9, 'left')
  s.ellipse([-0.15, -0.05], 0.35, 0.38, 'top')
}

function drawGear(s: Sketch): void {
  const outline = Array.from({ length: 48 }, (_, i) => {
    const t = (i / 48) * 2 * Math.PI
    const r = i % 4 < 2 ? 1 : 0.8
    return [r * Math.cos(t), r * Math.sin(t)] as const
  })
  s.flat(outline, 'left')
  s.ellipse([0, 0], 0.55, 0.55, 'top')
  s.flat(
    [
      [-0.2, 0],
      [0.2, 0],
    ],
    'line',
    false,
  )
  s.flat(
    [
      [0, -0.2],
      [0, 0.2],
    ],
    'line',
    false,
  )
}

function drawFigureHead(s: Sketch, { shape }: Measures): void {
  slotStrip(s, shape.family, shape.hand)
}

/** A token in the piece's colour: something small whose shape is not told by its name. */
function token(s: Sketch): void {
  const [near, far] = [0.45, 1.55]
  s.flat(
    [
      [near, 0.1],
      [far, 0.1],
      [1.9, near],
      [1.9, far],
      [far, 1.9],
      [near, 1.9],
      [0.1, far],
      [0.1, near],
    ],
    'left',
  )
}

function drawSticker(s: Sketch): void {
  s.flat(
    [
      [0, 0],
      [1.6, 0],
      [2, 0.4],
      [2, 1.4],
      [0, 1.4],
    ],
    'top',
  )
  s.flat(
    [
      [1.6, 0],
      [1.6, 0.4],
      [2, 0.4],
    ],
    'right',
  )
}

function drawStickerSheet(s: Sketch): void {
  s.flat(
    [
      [0, 0],
      [1.5, 0],
      [2, 0.5],
      [2, 2.4],
      [0, 2.4],
    ],
    'top',
  )
  s.flat(
    [
      [1.5, 0],
      [1.5, 0.5],
      [2, 0.5],
    ],
    'right',
  )
  s.flat(
    [
      [0.3, 0.8],
      [1.2, 0.8],
      [1.2, 1.2],
      [0.3, 1.2],
    ],
    'line',
  )
  s.flat(
    [
      [0.3, 1.5],
      [1.7, 1.5],
      [1.7, 2],
      [0.3, 2],
    ],
    'line',
  )
}

function drawUnknown(s: Sketch): void {
  s.flat(
    [
      [-0.2, -0.2],
      [2.2, -0.2],
      [2.2, 2.2],
      [-0.2, 2.2],
    ],
    'neutral',
  )
  token(s)
}

/** How each family is drawn. */
const DRAWINGS: Readonly<Record<Shape['family'], (s: Sketch, measures: Measures) => void>> = {
  brick: drawBrick,
  plate: drawBrick,
  'base plate': drawBasePlate,
  tile: drawTile,
  slope: drawSlope,
  'inverted slope': drawInvertedSlope,
  wedge: drawWedge,
  'wedge plate': drawWedge,
  'round brick': drawRoundBrick,
  'round plate': drawRoundBrick,
  'round tile': drawRoundBrick,
  cone: drawCone,
  dome: drawDome,
  arch: drawArch,
  panel: drawPanel,
  door: drawDoor,
  window: drawDoor,
  bar: drawBar,
  rod: drawBar,
  hose: drawHose,
  string: drawHose,
  plant: drawPlant,
  bracket: drawBracket,
  hinge: drawHinge,
  'clip plate': drawClipPlate,
  fence: drawFence,
  ladder: drawLadder,
  wheel: drawWheel,
  gear: drawGear,
  'figure head': drawFigureHead,
  'figure hair': drawFigureHead,
  'figure hat': drawFigureHead,
  'figure torso': drawFigureHead,
  'figure arm': drawFigureHead,
  'figure legs': drawFigureHead,
  accessory: token,
  sticker: drawSticker,
  'sticker sheet': drawStickerSheet,
  unknown: drawUnknown,
}

/** The slots of a figure from the top down: a row each, arms as two. */
const FIGURE_ROWS = ['figure hair', 'figure hat', 'figure head', 'figure torso', 'figure arm', 'figure legs'] as const
const ROW = { width: 2.4, height: 0.5, step: 0.62 }

/** A figure as a strip of slots, the one in question filled; of arms the side that the hand says. */
function slotStrip(s: Sketch, part: string, hand: Shape['hand']): void {
  for (const [i, row] of FIGURE_ROWS.entries()) {
    const y = i * ROW.step
    const cell = (x0: number, x1: number, filled: boolean) => {
      s.flat(
        [
          [x0, y],
          [x1, y],
          [x1, y + ROW.height],
          [x0, y + ROW.height],
        ],
        filled ? 'left' : 'ghost',
      )
    }
    if (row !== 'figure arm') cell(0, ROW.width, part === row)
    else {
      cell(0, ROW.width / 2 - 0.08, part === row && hand !== 'right')
      cell(ROW.width / 2 + 0.08, ROW.width, part === row && hand !== 'left')
    }
  }
}
