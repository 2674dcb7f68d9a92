import type { Schemas } from '../api/client'
import './kit.css'

export type Chocolate = Schemas['FoodChocolate']

interface Look {
  fill: string
  ink: string
  edge: string
  pattern?: string
  word: string
}

const looks: Record<'dark' | 'milk' | 'white', Look> = {
  dark: { fill: '#452818', ink: '#FBF6EC', edge: '#452818', word: 'dark' },
  milk: { fill: '#8A5733', ink: '#FFFFFF', edge: '#8A5733', pattern: 'url(#zt-dots)', word: 'milk' },
  white: { fill: '#F3E5C6', ink: '#2B1A12', edge: '#A58E62', word: 'white' },
}

/** How a chocolate is drawn: its real colour, and for eyes that do not tell colours plain, dots or an outline. */
export function lookOf(c: Chocolate): Look {
  if (c.tint) return { fill: c.tint, ink: '#12202B', edge: '#2C6E8F', word: 'tinted' }
  return looks[c.colour]
}

/** Patterns that drawings refer to; once in the page. */
export const Patterns = () => (
  <svg width="0" height="0" className="patterns" aria-hidden="true">
    <defs>
      <pattern id="zt-dots" width="5" height="5" patternUnits="userSpaceOnUse">
        <circle cx="1.4" cy="1.4" r=".75" fill="#fff" opacity=".38" />
      </pattern>
      <pattern id="zt-over" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="7" height="7" fill="#FBE9EC" />
        <rect width="4" height="7" fill="#A3213F" />
      </pattern>
    </defs>
  </svg>
)
