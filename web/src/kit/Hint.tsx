import { Popover } from 'antd'
import './face.css'

const words = { what: (of: string) => `What is “${of}”?` }

/** An explanation that opens by touch and by key, beside what it explains. */
export function Hint({ of, children }: { of: string; children: string }) {
  return (
    <Popover content={<p className="why">{children}</p>} trigger="click">
      <button type="button" className="hint" aria-label={words.what(of)}>
        ?
      </button>
    </Popover>
  )
}
