import { Popover } from 'antd'
import { type ReactNode, useState } from 'react'
import './kit.css'

/** A figure that explains itself when it is touched. */
export function Figure({ why, children, strong }: { why: string; children: ReactNode; strong?: boolean }) {
  const [open, setOpen] = useState(false)
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      content={<div className="why">{why}</div>}
      placement="left"
    >
      <button
        type="button"
        className={strong ? 'figure strong' : 'figure'}
        aria-expanded={open}
        onKeyDown={(e) => {
          if (e.key === 'Escape' && open) {
            e.stopPropagation()
            setOpen(false)
          }
        }}
      >
        {children}
      </button>
    </Popover>
  )
}
