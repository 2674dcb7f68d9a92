import { Button } from 'antd'
import { api, ask } from '../api/client'
import { GuestList, useGuests } from '../boxes/GuestList'
import { useSay } from '../kit/say'
import { asQuery, usePrinting } from './useLabelSheet'
import { words } from './words'

/** Tags with the names of guests. */
export function NameTags({ order, boxes }: { order: { id: string; customer: string }; boxes: number }) {
  const say = useSay()
  const { printing } = usePrinting()
  const guests = useGuests(order)
  const n = guests.read?.guests.length ?? 0
  async function print() {
    try {
      const { free: _, ...sheet } = asQuery(printing) as Record<string, string>
      const file = await ask(
        api.POST('/api/v1/calculators/tags.pdf', {
          params: { query: { ...sheet, start: printing.start } },
          body: { text: guests.text },
          parseAs: 'blob',
        }),
      )
      const link = document.createElement('a')
      link.href = URL.createObjectURL(file as unknown as Blob)
      link.download = 'tags.pdf'
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <details className="name-tags" open={guests.text !== ''}>
      <summary>{words.nameTags}</summary>
      <p className="soft">{words.nameTagsWhat}</p>
      <GuestList
        guests={guests}
        more={boxes > 0 && boxes !== n && <b className="trouble"> {words.boxesAndGuests(boxes, n)}</b>}
      >
        {n > 0 && (
          <Button size="small" type="primary" onClick={() => void print()}>
            {words.printTags(n)}
          </Button>
        )}
      </GuestList>
    </details>
  )
}
