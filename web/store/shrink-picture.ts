import { MAX_PICTURE } from '../../core/design/version.ts'

const LARGEST_FILE = 30 * 1024 * 1024
const SIDE = 1200

/** A chosen image file as a data URL small enough to keep, or why it cannot be one. Only pixels are taken over. */
export async function shrinkPicture(file: File): Promise<{ data: string } | { problem: string }> {
  if (file.size > LARGEST_FILE)
    return { problem: 'The picture is larger than 30 MB. Save it smaller and choose it again.' }
  let bitmap: ImageBitmap
  try {
    bitmap = await createImageBitmap(file)
  } catch {
    return { problem: 'This file is not a picture that the browser can read. Choose a PNG, JPEG or WebP.' }
  }
  for (let side = SIDE; side >= 300; side = Math.floor(side * 0.75)) {
    const scale = Math.min(1, side / Math.max(bitmap.width, bitmap.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(bitmap.width * scale))
    canvas.height = Math.max(1, Math.round(bitmap.height * scale))
    const context = canvas.getContext('2d')
    if (!context) return { problem: 'The browser cannot draw the picture.' }
    context.fillStyle = '#ffffff'
    context.fillRect(0, 0, canvas.width, canvas.height)
    context.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
    const data = canvas.toDataURL('image/jpeg', 0.85)
    if (data.length <= MAX_PICTURE) return { data }
  }
  return { problem: 'The picture cannot be made small enough.' }
}
