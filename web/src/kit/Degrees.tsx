import { InputNumber } from 'antd'
import { useKitchen } from '../shell/kitchen'

interface Props {
  label: string
  value?: number // °C
  set: (celsius?: number) => void
  us?: boolean // °F; not given: as the kitchen reads temperatures
  digits?: number
  placeholder?: string
  wrong?: boolean
  size?: 'small'
  width?: number
  id?: string // what a field around it gives
  'aria-describedby'?: string
}

/** A temperature as the kitchen reads it, °F or °C; it is kept in °C. */
export function Degrees({ label, value, set, us, digits = 0, placeholder, wrong, size, width = 92, ...field }: Props) {
  const own = useKitchen().session.units === 'us'
  const fahrenheit = us ?? own
  const shown = value === undefined ? null : Number((fahrenheit ? value * 1.8 + 32 : value).toFixed(digits))
  return (
    <InputNumber
      {...field}
      size={size}
      aria-label={label}
      value={shown}
      placeholder={placeholder}
      suffix={fahrenheit ? '°F' : '°C'}
      controls={false}
      status={wrong ? 'error' : undefined}
      style={{ width }}
      onChange={(n) => set(n === null ? undefined : fahrenheit ? (n - 32) / 1.8 : n)}
    />
  )
}
