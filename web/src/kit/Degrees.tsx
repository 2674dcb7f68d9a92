import { InputNumber } from 'antd'
import { useKitchen } from '../shell/kitchen'

interface Props {
  label: string
  value?: number // °C
  set: (celsius?: number) => void
  placeholder?: string
  wrong?: boolean
}

/** A temperature as the kitchen reads it, °F or °C; it is kept in °C. */
export function Degrees({ label, value, set, placeholder, wrong }: Props) {
  const us = useKitchen().session.units === 'us'
  const shown = value === undefined ? null : Math.round(us ? value * 1.8 + 32 : value)
  return (
    <InputNumber size="small" aria-label={label} value={shown} placeholder={placeholder} suffix={us ? '°F' : '°C'} controls={false} status={wrong ? 'error' : undefined} style={{ width: 92 }}
      onChange={(n) => set(n === null ? undefined : us ? (n - 32) / 1.8 : n)} />
  )
}
