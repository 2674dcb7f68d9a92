import { Input, type InputProps } from 'antd'
import { useId } from 'react'

/** A blank in a sentence, as wide as what is in it; what is wrong with it stands below it and is read with it. */
export function Blank({
  label,
  fault,
  wide = 6,
  ...input
}: Omit<InputProps, 'size' | 'variant' | 'aria-label'> & {
  label: string
  fault?: string | undefined
  wide?: number // letters, at least
}) {
  const id = useId()
  const shown = `${(input.value as string | undefined) || input.placeholder || ''}`
  return (
    <span className="blank-field">
      <Input
        {...input}
        variant="borderless"
        className={fault ? 'blank wrong' : 'blank'}
        aria-label={label}
        aria-invalid={Boolean(fault)}
        aria-describedby={fault ? id : undefined}
        htmlSize={Math.min(Math.max(shown.length + 1, wide), 34)}
      />
      {fault && (
        <span id={id} className="fault" role="alert">
          {fault}
        </span>
      )}
    </span>
  )
}
