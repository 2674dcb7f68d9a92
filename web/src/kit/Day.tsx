import { DatePicker, TimePicker } from 'antd'
import dayjs from 'dayjs'
import customParseFormat from 'dayjs/plugin/customParseFormat'
import { useMemo } from 'react'
import { useKitchen } from '../shell/kitchen'

dayjs.extend(customParseFormat)

const shownAs = 'ddd D MMM YYYY' // as everywhere on the page
const typed = {
  dmy: ['D/M/YYYY', 'D.M.YYYY', 'D MMM YYYY'],
  mdy: ['M/D/YYYY', 'MMM D YYYY', 'ddd MMM D, YYYY', 'D MMM YYYY'],
  ymd: ['YYYY/M/D', 'D MMM YYYY'],
}

interface DayProps {
  label: string
  value: string // a date
  min?: string
  max?: string
  empty?: string // what stands where no day is chosen; without it there is always one
  small?: boolean
  onChange: (day: string) => void
  fault?: string // id of what says what is wrong
}

/** A day, chosen or typed in the kitchen's order of day and month. */
export function Day({ label, value, min, max, empty, small, onChange, fault }: DayProps) {
  const order = useKitchen().session.dates ?? 'dmy'
  const shown = useMemo(() => (value ? dayjs(value) : null), [value]) // the same one while one types
  return (
    <DatePicker
      className="day-input"
      aria-label={label}
      aria-invalid={Boolean(fault)}
      aria-describedby={fault}
      status={fault ? 'error' : undefined}
      value={shown}
      format={[shownAs, ...typed[order], 'YYYY-MM-DD']}
      minDate={min ? dayjs(min) : undefined}
      maxDate={max ? dayjs(max) : undefined}
      size={small ? 'small' : undefined}
      placeholder={empty}
      allowClear={empty !== undefined}
      onChange={(d) => (d ? onChange(d.format('YYYY-MM-DD')) : empty !== undefined && onChange(''))}
    />
  )
}

/** A time of day on the kitchen's clock. */
export function Time({ label, value, onChange, fault }: Omit<DayProps, 'min'>) {
  const half = useKitchen().session.clock === 12
  const shown = useMemo(() => dayjs(value, 'HH:mm'), [value])
  return (
    <TimePicker
      className="time-input"
      aria-label={label}
      aria-invalid={Boolean(fault)}
      aria-describedby={fault}
      status={fault ? 'error' : undefined}
      value={shown}
      format={half ? ['h:mm a', 'h:mma', 'h a', 'ha', 'HH:mm'] : ['HH:mm', 'H:mm', 'HHmm']}
      use12Hours={half}
      minuteStep={5}
      allowClear={false}
      needConfirm={false}
      onChange={(t) => t && onChange(t.format('HH:mm'))}
    />
  )
}

/** Minutes of a day as a 24-hour clock, as the server has it: 1110 is 18:30. */
export const clockOf = (minute: number) =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

/** The minute of a day at which a 24-hour clock shows this. */
export const minuteOf = (clock: string) => {
  const [h = 0, m = 0] = clock.split(':').map(Number)
  return h * 60 + m
}
