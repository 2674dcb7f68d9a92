import { Button } from 'antd'
import '../kit/face.css'

const words = {
  found: 'This was typed earlier on this device. It isn’t saved yet.',
  forget: 'Discard it',
}

/** A form that begins with what was typed and not saved. */
export function Restored({ found, forget }: { found: boolean; forget: () => void }) {
  if (!found) return null
  return (
    <p className="found" role="status">
      {words.found}{' '}
      <Button size="small" onClick={forget}>
        {words.forget}
      </Button>
    </p>
  )
}
