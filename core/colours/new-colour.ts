import { colourId } from '../units/ids.ts'
import type { Colour } from './colour.ts'
import { guessFinish, guessHex } from './name-guess.ts'

/** Characters of a colour's name. */
const MOST_NAME = 80

/** A colour known by its name alone: value and finish are guessed by it, and marked so until somebody confirms them. */
export function newColour(name: string): Colour {
  const called = name.replace(/\s+/g, ' ').trim().slice(0, MOST_NAME)
  return {
    id: colourId(called),
    name: called,
    hex: guessHex(called),
    finish: guessFinish(called),
    aliases: [],
    guessed: true,
  }
}

/** A colour whose value and finish somebody has said to be right. */
export function confirmed({ guessed: _, ...colour }: Colour): Colour {
  return colour
}
