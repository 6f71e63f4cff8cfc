import { VISIONS, type Vision } from '../../../core/colours/vision.ts'

export const VISION_WORDS: Record<Vision, string> = {
  usual: 'as most people see it',
  protan: 'without red cones',
  deutan: 'without green cones',
  tritan: 'without blue cones',
}

export const isVision = (text: string | null): text is Vision => VISIONS.some((v) => v === text)

export type { Vision }
