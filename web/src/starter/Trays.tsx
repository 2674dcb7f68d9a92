import { InputNumber } from 'antd'
import type { Answers } from './Starter'
import { words } from './words'

/** How many trays there are in each place. */
export function Trays({ trays, set }: { trays: Answers['trays']; set: (t: Answers['trays']) => void }) {
  return (
    <ul className="starter-trays">
      {Object.entries(trays)
        .filter(([spot]) => spot in words.spots)
        .sort(([a], [b]) => Object.keys(words.spots).indexOf(a) - Object.keys(words.spots).indexOf(b))
        .map(([spot, n]) => (
          <li key={spot}>
            <span>{words.spots[spot]}</span>
            <InputNumber
              aria-label={words.trays(spot)}
              min={0}
              max={500}
              precision={0}
              value={n}
              suffix={words.tray(n)}
              onChange={(x) => x !== null && set({ ...trays, [spot]: x })}
            />
          </li>
        ))}
    </ul>
  )
}
