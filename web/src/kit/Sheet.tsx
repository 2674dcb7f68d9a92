import { Button } from 'antd'
import { type ReactNode, useEffect, useId, useRef } from 'react'
import { words } from './words'

/**
 * Pressed on the backdrop. (A click would not tell: a list that opens can move the sheet between press and release.)
 */
function outside(e: { target: EventTarget; clientX: number; clientY: number }, dialog: HTMLDialogElement | null) {
  if (!dialog || e.target !== dialog) return false
  const r = dialog.getBoundingClientRect()
  return e.clientX < r.left || e.clientX > r.right || e.clientY < r.top || e.clientY > r.bottom
}

/**
 * A sheet over the table, for one small thing at a time. It is the browser's own dialog: focus stays in it, Esc closes
 * it. (Ant Design's modal writes style elements that the content security policy refuses.)
 */
export function Sheet({
  title,
  close,
  cancel,
  onOk,
  okText = words.save,
  children,
}: {
  title: string
  close: () => void
  cancel?: () => void // what is thrown away, where closing alone keeps it
  onOk?: () => void
  okText?: string
  children: ReactNode
}) {
  const dialog = useRef<HTMLDialogElement>(null)
  const id = useId()
  useEffect(() => {
    const d = dialog.current
    d?.showModal()
    return () => d?.close()
  }, [])
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- beside Esc, the dialog's own
    <dialog
      ref={dialog}
      className="sheet"
      aria-labelledby={id}
      onClose={close}
      onMouseDown={(e) => outside(e, dialog.current) && close()}
    >
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
          {onOk && (
            <Button type="primary" htmlType="submit">
              {okText}
            </Button>
          )}
          <Button
            onClick={() => {
              cancel?.()
              close()
            }}
          >
            {onOk ? words.cancel : words.close}
          </Button>
        </footer>
      </form>
    </dialog>
  )
}
