import { Form, Segmented } from 'antd'
import { cloneElement, isValidElement, type ReactElement, type ReactNode, useId } from 'react'
import './kit.css'

/** What is wrong with a field, read out as soon as it is there. */
export const Fault = ({ id, children }: { id?: string; children?: ReactNode }) =>
  children ? (
    <span id={id} className="fault" role="alert">
      {children}
    </span>
  ) : null

/**
 * A field of a form: its label, its one control, what is wrong with it and its help. The control gets an id for the
 * label and says what describes it, for whoever does not see where things stand. Several controls under one label name
 * themselves (group).
 */
export function Field(p: {
  label: ReactNode
  fault?: ReactNode
  help?: ReactNode
  group?: boolean
  children: ReactNode
}) {
  const id = useId()
  const described = [p.fault && `${id}fault`, p.help && `${id}help`].filter(Boolean).join(' ') || undefined
  const chosen = isValidElement(p.children) && p.children.type === Segmented
  const control = !p.group && isValidElement(p.children)
  return (
    <Form.Item
      className="field"
      layout="vertical"
      colon={false}
      label={<span id={`${id}label`}>{p.label}</span>}
      htmlFor={control && !chosen ? id : undefined}
      validateStatus={p.fault ? 'error' : undefined}
      help={p.fault ? <Fault id={`${id}fault`}>{p.fault}</Fault> : undefined}
      extra={p.help ? <small id={`${id}help`}>{p.help}</small> : undefined}
    >
      {control
        ? cloneElement(p.children as ReactElement<Record<string, unknown>>, {
            ...(chosen ? { 'aria-labelledby': `${id}label` } : { id, 'aria-invalid': Boolean(p.fault) || undefined }),
            'aria-describedby': described,
          })
        : p.children}
    </Form.Item>
  )
}
