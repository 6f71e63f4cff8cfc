import { converter, differenceCiede2000, modeLab65, modeRgb, modeXyz65, useMode, type Lab65 } from 'culori/fn'

for (const mode of [modeRgb, modeXyz65, modeLab65]) useMode(mode)

/** A colour in CIE L*a*b*, D65. */
export type Lab = Lab65

const toLab = converter('lab65')

/** sRGB `#rrggbb` to CIE L*a*b* (IEC 61966-2-1 transfer function and matrix, D65 white). */
export function hexToLab(hex: string): Lab {
  const channel = (at: number) => parseInt(hex.slice(at, at + 2), 16) / 255
  return toLab({ mode: 'rgb', r: channel(1), g: channel(3), b: channel(5) })
}

/** CIEDE2000 colour difference with kL = kC = kH = 1 (ISO/CIE 11664-6). */
export const ciede2000: (p: Lab, q: Lab) => number = differenceCiede2000()
