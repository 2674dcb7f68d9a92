import { Button } from 'antd'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import '../starter/starter.css'
import { WeekTins } from '../starter/Week'
import { usePlanDocument } from './usePlanDocument'
import { fetchHours, putHours } from './when'
import { words } from './words'

/** The hours of the week where they are missed, so that one need not leave what one is at. */
export function QuickHours() {
  const kitchen = useKitchen()
  const form = usePlanDocument('work-days', words.hours, fetchHours, putHours, words.quickHours.saved)
  const { value, refused } = form
  if (!value) return null
  return (
    <div className="quick-hours empty">
      <p>{words.quickHours.lead}</p>
      {form.notice}
      <WeekTins
        week={value.week}
        clock={kitchen.session.clock ?? 24}
        set={(week) => form.set({ ...value, week })}
        fault={(path) => refused?.at(path)}
      />
      {refused && !refused.problem.errors?.length && (
        <p className="fault" role="alert">
          {refused.message}
        </p>
      )}
      <p>
        <Button type="primary" disabled={!form.dirty} loading={form.saving} onClick={() => form.save()}>
          {words.quickHours.save}
        </Button>{' '}
        <Link to="/plan/hours">{words.quickHours.more}</Link>
      </p>
    </div>
  )
}
