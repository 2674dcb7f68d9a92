import { Button } from 'antd'
import { useKitchen } from '../shell/kitchen'
import { useLeaving } from './useLeaving'
import { words } from './words'

/** On every page of a kitchen that is to go: when, and the way back. */
export function Going() {
  const kitchen = useKitchen()
  const { stay } = useLeaving()
  const at = kitchen.session.goneAt
  if (!at) return null
  if (kitchen.session.toTry) {
    return (
      <p className="away no-print" role="status">
        {words.toTry(kitchen.moment(at))}
      </p>
    )
  }
  return (
    <p className="away no-print" role="status">
      {words.goesAt(kitchen.moment(at))} {kitchen.owns && <Button onClick={() => void stay()}>{words.keepIt}</Button>}
    </p>
  )
}
