import { Popover } from 'antd'
import './face.css'
import { words } from './words'

/** An explanation that opens by touch and by key, beside what it explains. */
export function Hint({ of, children }: { of: string; children: string }) {
  return (
    <Popover content={<p className="why">{children}</p>} trigger="click">
      <button type="button" className="hint" aria-label={words.hint.what(of)}>
        ?
      </button>
    </Popover>
  )
}
