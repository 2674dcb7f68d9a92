import { Button } from 'antd'
import '../kit/face.css'

const words = {
  both: 'Someone else changed this too, so your changes aren’t saved yet.',
  theirs: 'Use theirs',
  mine: 'Keep mine',
}

/** Asks whose change stays, where two people changed the same. */
export function Both({ theirs, mine }: { theirs: () => void; mine: () => void }) {
  return (
    <p className="found" role="alert">
      {words.both} <Button onClick={theirs}>{words.theirs}</Button> <Button onClick={mine}>{words.mine}</Button>
    </p>
  )
}
