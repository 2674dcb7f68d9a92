import { Button } from 'antd'
import '../kit/face.css'
import { words } from './words'

/** Asks whose change stays, where two people changed the same. */
export function Both({ theirs, mine }: { theirs: () => void; mine: () => void }) {
  return (
    <p className="found" role="alert">
      {words.both.both} <Button onClick={theirs}>{words.both.theirs}</Button>{' '}
      <Button onClick={mine}>{words.both.mine}</Button>
    </p>
  )
}
