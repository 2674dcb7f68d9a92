import { Button } from 'antd'
import '../kit/face.css'
import { words } from './words'

/** A form that begins with what was typed and not saved. */
export function Restored({ found, forget }: { found: boolean; forget: () => void }) {
  if (!found) return null
  return (
    <p className="found" role="status">
      {words.restored.found}{' '}
      <Button size="small" onClick={forget}>
        {words.restored.forget}
      </Button>
    </p>
  )
}
