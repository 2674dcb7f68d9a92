import type { Schemas } from '../api/client'
import { Plot } from '../kit/Plot'
import { Sign } from '../kit/glyphs'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

const softens = 27 // °C, real chocolate

/** How warm it gets on the way, and what that asks for. */
export function Heat({ drive, warmest }: { drive: Schemas['HandoverDrive']; warmest: number }) {
  const { clock, session } = useKitchen()
  const us = session.units === 'us'
  const own = (c: number) => (us ? c * 1.8 + 32 : c)
  const each = Math.max(1, Math.ceil(drive.warmth.length / 24))
  const shown = drive.warmth.filter((_, i) => i % each === 0 || i === drive.warmth.length - 1)
  const hottest = Math.max(softens + 4, ...drive.warmth.map((w) => w.car))
  const degrees = (n: number) => `${Math.round(n)} ${us ? '°F' : '°C'}`
  return (
    <div className="drive-heat">
      <h2>
        {words.heat} <small>{degrees(own(warmest))}</small>
      </h2>
      <Plot
        label={words.heatPlot}
        ticks={shown.map((w) => clock(w.at))}
        lines={[
          { name: words.inTheCar, colour: '#a3213f', values: shown.map((w) => Math.round(own(w.car))) },
          { name: words.inTheShade, colour: '#2c6e8f', values: shown.map((w) => Math.round(own(w.air))) },
        ]}
        band={{ name: words.softens, low: own(softens), high: own(hottest) }}
        show={degrees}
        height={150}
        least={Math.floor(own(Math.min(...drive.warmth.map((w) => w.air))) / 10) * 10}
      />
      <ul>
        {drive.heat.map((h) => (
          <li key={h}>
            <Sign kind={drive.chests.length > 0 ? 'caution' : 'fine'} size={14} /> {h}
          </li>
        ))}
      </ul>
    </div>
  )
}
