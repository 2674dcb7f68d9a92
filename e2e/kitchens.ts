import { readdirSync } from 'node:fs'
import { basename } from 'node:path'

/**
 * Files of tests, each with a demo kitchen of its own for every size of screen: files run side by side and never meet.
 * The first is the kitchen that the sign-in page offers.
 */
const files = [
  'journey',
  ...readdirSync(import.meta.dirname)
    .filter((f) => f.endsWith('.spec.ts'))
    .map((f) => f.replace('.spec.ts', ''))
    .filter((f) => !['journey', 'pure', 'language'].includes(f)) // the last two open no page
    .sort(),
]
/** What is tried on a phone too. */
export const onPhone = ['doorstep', 'views']

export const kitchens = [
  ...files.map((file) => ({ size: 'laptop', file })),
  ...onPhone.map((file) => ({ size: 'phone', file })),
]

const numberOf = (size: string, file: string) =>
  kitchens.findIndex(
    (k) => k.size === (size === 'phone' ? 'phone' : 'laptop') && k.file === basename(file).replace('.spec.ts', ''),
  ) + 1

/** Who signs in to the kitchen of a file. */
export const mailOf = (size: string, file: string) => {
  const n = numberOf(size, file)
  return n <= 1 ? 'maren@lakeside.example' : `maren-${n}@lakeside.example`
}
