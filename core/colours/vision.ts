/** Kinds of colour vision besides the usual: without long-, middle- or short-wave cones. */
export const VISIONS = ['usual', 'protan', 'deutan', 'tritan'] as const
export type Vision = (typeof VISIONS)[number]

/**
 * Matrices on linear sRGB for full severity: Machado, Oliveira and Fernandes, "A physiologically-based model for
 * simulation of color vision deficiency" (IEEE Transactions on Visualization and Computer Graphics 15, 2009), table of
 * severity 1.0.
 */
const MATRICES: Record<Exclude<Vision, 'usual'>, readonly (readonly [number, number, number])[]> = {
  protan: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deutan: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritan: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
}

const toLinear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)
const toEncoded = (c: number) => (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055)

const channels = (hex: string): readonly [number, number, number] => {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
  return [r, g, b]
}

/** A colour (`#rrggbb`) as it looks to another kind of colour vision. */
export function seenAs(hex: string, vision: Vision): string {
  if (vision === 'usual') return hex
  const linear = channels(hex).map(toLinear)
  const byte = (row: readonly number[]) => {
    const value = row.reduce((sum, weight, i) => sum + weight * (linear[i] ?? 0), 0)
    return Math.round(Math.min(1, Math.max(0, toEncoded(Math.min(1, Math.max(0, value))))) * 255)
  }
  return `#${MATRICES[vision].map((row) => byte(row).toString(16).padStart(2, '0')).join('')}`
}
