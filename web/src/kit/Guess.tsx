import { Popover } from 'antd'
import './face.css'
import { words } from './words'

/** A mark on a figure that rests on an estimate; what that means opens by touch and key. */
export function Guess() {
  return (
    <Popover content={<p className="why">{words.guess.why}</p>} trigger={['click', 'hover']}>
      <button type="button" className="guess">
        {words.guess.estimate}
      </button>
    </Popover>
  )
}
