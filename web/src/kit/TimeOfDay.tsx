import { TimePicker } from 'antd'
import dayjs from 'dayjs'
import { useKitchen } from '../shell/kitchen'

/** A minute of the day, by the kitchen's clock. */
export function TimeOfDay({ label, value, set }: { label: string; value: number; set: (minute: number) => void }) {
  const twelve = useKitchen().session.clock === 12
  return (
    <label className="time-of-day">
      {label}{' '}
      <TimePicker
        value={dayjs()
          .startOf('day')
          .hour(Math.floor(value / 60))
          .minute(value % 60)}
        format={twelve ? 'h:mm a' : 'HH:mm'}
        use12Hours={twelve}
        minuteStep={5}
        allowClear={false}
        needConfirm={false}
        aria-label={label}
        onChange={(t: dayjs.Dayjs | null) => t && set(t.hour() * 60 + t.minute())}
      />
    </label>
  )
}
