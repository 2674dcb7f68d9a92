import { Popover } from 'antd'
import './face.css'

const words = {
  estimate: 'estimate',
  why:
    'This rests on a price that we made up and nobody has paid yet. ' +
    'Type what you paid, or add a receipt, and it is exact.',
}

/** A mark on a figure that rests on an estimate; what that means opens by touch and key. */
export function Guess() {
  return (
    <Popover content={<p className="why">{words.why}</p>} trigger={['click', 'hover']}>
      <button type="button" className="guess">
        {words.estimate}
      </button>
    </Popover>
  )
}
