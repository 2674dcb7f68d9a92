import { Button } from 'antd'
import { Sign } from '../kit/glyphs'

/** What there is to say of a price: that there is none, or that it is an estimate. */
export function PriceNote({ paid, estimated, keep }: { paid: string; estimated?: boolean; keep: () => void }) {
  if (Number(paid) === 0) {
    return (
      <small>
        <Sign kind="caution" size={13} /> No price yet, so costs with it come out too low.
      </small>
    )
  }
  if (!estimated) return null
  return (
    <small>
      <Sign kind="caution" size={13} /> This price is an estimate. Type what you paid, or{' '}
      <Button size="small" type="link" onClick={keep}>
        it is right
      </Button>
    </small>
  )
}
