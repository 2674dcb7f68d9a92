import { Button } from 'antd'
import { type ReactNode, useEffect, useId, useRef } from 'react'

/**
 * A sheet over the table, for one small thing at a time. It is the browser's own dialog: focus stays in it, Esc closes it.
 * (Ant Design's modal writes style elements that the content security policy refuses.)
 */
export function Sheet({ title, close, onOk, okText = 'Save', children }: { title: string; close: () => void; onOk?: () => void; okText?: string; children: ReactNode }) {
  const dialog = useRef<HTMLDialogElement>(null)
  const id = useId()
  useEffect(() => {
    const d = dialog.current
    d?.showModal()
    return () => d?.close()
  }, [])
  return (
    <dialog ref={dialog} className="sheet" aria-labelledby={id} onClose={close} onClick={(e) => e.target === dialog.current && close()}>
      <form
        method="dialog"
        noValidate
        onSubmit={(e) => {
          e.preventDefault()
          onOk?.()
        }}
      >
        <h2 id={id}>{title}</h2>
        {children}
        <footer>
          {onOk && <Button type="primary" htmlType="submit">{okText}</Button>}
          <Button onClick={close}>{onOk ? 'Leave it' : 'Close'}</Button>
        </footer>
      </form>
    </dialog>
  )
}
