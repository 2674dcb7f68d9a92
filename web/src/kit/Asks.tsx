import { Select } from 'antd'
import { words } from './words'

/** What something can be asked to suit. */
export type Wish = keyof typeof words.wishes
export const wishes = Object.keys(words.wishes) as Wish[]

/** What is asked of something: what it is to suit, and what it must be free from. */
export interface Asked {
  wishes?: string[]
  freeFrom?: string[]
}

/** Chooses both in one list. */
export function Asks({
  label,
  asked,
  allergens,
  open,
  change,
  close,
}: {
  label: string
  asked: Asked
  allergens: string[]
  /** It opens at once. */
  open?: boolean
  change: (x: Asked) => void
  close?: () => void
}) {
  return (
    <Select
      mode="multiple"
      size="small"
      autoFocus={open}
      defaultOpen={open}
      aria-label={label}
      placeholder={words.asks.example}
      value={[...(asked.wishes ?? []), ...(asked.freeFrom ?? []).map((a) => `-${a}`)] as string[]}
      style={{ minWidth: 220 }}
      onBlur={close}
      onChange={(list: string[]) => {
        const freeFrom = list.filter((x) => x.startsWith('-')).map((x) => x.slice(1))
        const suits = list.filter((x): x is Wish => x in words.wishes)
        change({
          wishes: suits.length > 0 ? suits : undefined,
          freeFrom: freeFrom.length > 0 ? freeFrom : undefined,
        })
      }}
      options={[
        { label: words.asks.isToSuit, options: wishes.map((w) => ({ value: w as string, label: words.wishes[w] })) },
        {
          label: words.asks.freeFrom,
          options: allergens.map((a) => ({ value: `-${a}`, label: words.asks.freeOf(a) })),
        },
      ]}
    />
  )
}
