/** A colour in CIE L*a*b*, D65. */
export type Lab = { readonly L: number; readonly a: number; readonly b: number }

/** sRGB `#rrggbb` to CIE L*a*b* (IEC 61966-2-1 transfer function and matrix, D65 white). */
export function hexToLab(hex: string): Lab {
  const linear = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  })
  const [r = 0, g = 0, b = 0] = linear
  const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116)
  const x = f((0.4123907992659595 * r + 0.357584339383878 * g + 0.1804807884018343 * b) / 0.9504559270516716)
  const y = f(0.21263900587151027 * r + 0.715168678767756 * g + 0.07219231536073371 * b)
  const z = f((0.01933081871559182 * r + 0.11919477979462598 * g + 0.9505321522496607 * b) / 1.0890577507598784)
  return { L: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) }
}

const deg = (radians: number) => (radians * 180) / Math.PI
const rad = (degrees: number) => (degrees * Math.PI) / 180

/**
 * CIEDE2000 colour difference with kL = kC = kH = 1. Formula and implementation notes: Sharma, Wu and Dalal,
 * "The CIEDE2000 color-difference formula" (Color Research & Application 30, 2005).
 */
export function ciede2000(p: Lab, q: Lab): number {
  const meanC = (Math.hypot(p.a, p.b) + Math.hypot(q.a, q.b)) / 2
  const G = 0.5 * (1 - Math.sqrt(meanC ** 7 / (meanC ** 7 + 25 ** 7)))
  const a1 = p.a * (1 + G)
  const a2 = q.a * (1 + G)
  const C1 = Math.hypot(a1, p.b)
  const C2 = Math.hypot(a2, q.b)
  const hue = (a: number, b: number) => (a === 0 && b === 0 ? 0 : (deg(Math.atan2(b, a)) + 360) % 360)
  const h1 = hue(a1, p.b)
  const h2 = hue(a2, q.b)
  const grey = C1 * C2 === 0
  const dh = grey ? 0 : h2 - h1 > 180 ? h2 - h1 - 360 : h2 - h1 < -180 ? h2 - h1 + 360 : h2 - h1
  const dL = q.L - p.L
  const dC = C2 - C1
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin(rad(dh) / 2)
  const L = (p.L + q.L) / 2
  const C = (C1 + C2) / 2
  const h = grey
    ? h1 + h2
    : Math.abs(h1 - h2) <= 180
      ? (h1 + h2) / 2
      : h1 + h2 < 360
        ? (h1 + h2 + 360) / 2
        : (h1 + h2 - 360) / 2
  const T =
    1 -
    0.17 * Math.cos(rad(h - 30)) +
    0.24 * Math.cos(rad(2 * h)) +
    0.32 * Math.cos(rad(3 * h + 6)) -
    0.2 * Math.cos(rad(4 * h - 63))
  const RC = 2 * Math.sqrt(C ** 7 / (C ** 7 + 25 ** 7))
  const SL = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2)
  const SC = 1 + 0.045 * C
  const SH = 1 + 0.015 * C * T
  const RT = -Math.sin(rad(60 * Math.exp(-(((h - 275) / 25) ** 2)))) * RC
  return Math.sqrt((dL / SL) ** 2 + (dC / SC) ** 2 + (dH / SH) ** 2 + RT * (dC / SC) * (dH / SH))
}
