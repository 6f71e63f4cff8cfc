/** The longest side of a picture that is kept, pixels: many times what is shown, little enough to be unpacked. */
export const MOST_PIXELS = 4096

const word = (b: Uint8Array, at: number) => ((b[at] ?? 0) << 8) | (b[at + 1] ?? 0)
const littleWord = (b: Uint8Array, at: number) => (b[at] ?? 0) | ((b[at + 1] ?? 0) << 8)
const ascii = (b: Uint8Array, at: number, n: number) => String.fromCharCode(...b.slice(at, at + n))

type Size = { readonly width: number; readonly height: number }

/** ISO/IEC 15948 (PNG): the header chunk comes first, width and height in 4 bytes each. */
const ofPng = (b: Uint8Array): Size | undefined =>
  ascii(b, 12, 4) === 'IHDR'
    ? { width: word(b, 16) * 65536 + word(b, 18), height: word(b, 20) * 65536 + word(b, 22) }
    : undefined

/** ISO/IEC 10918-1 (JPEG): the first start-of-frame marker (C0 to CF but C4, C8 and CC). */
function ofJpeg(b: Uint8Array): Size | undefined {
  for (let at = 2; at + 9 < b.length;) {
    if (b[at] !== 0xff) return undefined
    const marker = b[at + 1] ?? 0
    if (marker === 0xff) {
      at++
      continue
    }
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { height: word(b, at + 5), width: word(b, at + 7) }
    at += 2 + word(b, at + 2)
  }
  return undefined
}

/** RFC 9649 (WebP): lossy, lossless and extended headers. */
function ofWebp(b: Uint8Array): Size | undefined {
  if (ascii(b, 0, 4) !== 'RIFF' || ascii(b, 8, 4) !== 'WEBP') return undefined
  const kind = ascii(b, 12, 4)
  if (kind === 'VP8X')
    return { width: 1 + littleWord(b, 24) + ((b[26] ?? 0) << 16), height: 1 + littleWord(b, 27) + ((b[29] ?? 0) << 16) }
  if (kind === 'VP8 ') return { width: littleWord(b, 26) & 0x3fff, height: littleWord(b, 28) & 0x3fff }
  if (kind !== 'VP8L') return undefined
  const bits = littleWord(b, 21) + littleWord(b, 23) * 65536
  return { width: 1 + (bits & 0x3fff), height: 1 + (Math.floor(bits / 16384) & 0x3fff) }
}

/**
 * The pixels of a picture given as a data URL, told from its header; undefined when the header is none of its type. Of
 * the data only as much is read as headers may be long.
 */
export function pictureSize(dataUrl: string): Size | undefined {
  const match = /^data:image\/(png|jpeg|webp);base64,/.exec(dataUrl)
  if (!match) return undefined
  let bytes: Uint8Array
  try {
    const from = match[0].length
    // A JPEG's frame may stand behind profiles and previews: all of it is looked at, the others begin with their size.
    const text = dataUrl.slice(from, match[1] === 'jpeg' ? undefined : from + 64)
    bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
  } catch {
    return undefined
  }
  return match[1] === 'png' ? ofPng(bytes) : match[1] === 'jpeg' ? ofJpeg(bytes) : ofWebp(bytes)
}
