import { useState } from 'react'
import type { Schemas } from '../api/client'
import { useKitchen } from '../shell/kitchen'

export type Own = Omit<Schemas['OrdersLabelSheet'], 'id' | 'page' | 'labels' | 'sides'>

/** How labels are printed on this device: its printer has its own sheets. */
export interface Printing {
  sheet: string // of the common ones; empty: one's own
  own?: Own
  start: number // the first label of the sheet that is free
  free: string
  code: '' | 'qr' | 'lot' | 'ean' // a code for machines
  says: string // by it
}

const stored = 'zestytin.labels'
const usual: Omit<Printing, 'sheet'> = { start: 1, free: '', code: '', says: '' }

function read(sheet: string): Printing {
  try {
    return { sheet, ...usual, ...(JSON.parse(localStorage.getItem(stored) ?? '{}') as Partial<Printing>) }
  } catch {
    return { sheet, ...usual } // what stands there is no settings of this version
  }
}

export function usePrinting() {
  const { units } = useKitchen().session
  const [printing, setPrinting] = useState(() => read(units === 'us' ? 'letter-6' : 'a4-8'))
  const change = (x: Partial<Printing>) => {
    const next = { ...printing, ...x }
    localStorage.setItem(stored, JSON.stringify(next))
    setPrinting(next)
  }
  return { printing, change }
}

/** The part of an address that names the sheet, the free line and the code. */
export const asQuery = (p: Printing) => ({
  ...(p.sheet === '' && p.own ? { own: JSON.stringify(p.own) } : { sheet: p.sheet }),
  ...(p.free ? { free: p.free } : {}),
  ...(p.code ? { code: p.code, ...(p.code === 'lot' ? {} : { says: p.says }) } : {}),
})
