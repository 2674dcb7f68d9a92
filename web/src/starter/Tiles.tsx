import { Checkbox, Select } from 'antd'
import type { Family } from '../api/families'
import { Glyph } from '../kit/glyphs'
import type { Answers, Outset } from './Starter'

/** A tile for each family: ticked when it is sold, with its choices, each of which can be changed. */
export function Tiles(props: { tiles: Outset['tiles']; sells: Answers['sells']; set: (s: Answers['sells']) => void }) {
  const { tiles, sells, set } = props
  const toggle = (family: string, sold: boolean) => {
    const next = { ...sells }
    if (sold) next[family] = {}
    else delete next[family]
    set(next)
  }
  return (
    <ul className="tiles">
      {tiles.map((t) => {
        const picked = sells[t.family]
        return (
          <li key={t.family} className={picked ? 'tile sold' : 'tile'}>
            <Checkbox checked={Boolean(picked)} onChange={(e) => toggle(t.family, e.target.checked)}>
              <i className="tile-glyph" aria-hidden="true">
                <Glyph family={t.family as Family} size={22} />
              </i>
              <b>{t.name}</b>
            </Checkbox>
            {picked && (
              <div className="tile-picks">
                {t.picks.map((p) => (
                  <Select
                    key={p.id}
                    size="small"
                    aria-label={`${t.name}: ${p.name}`}
                    value={picked[p.id] ?? p.options[0]!.id}
                    popupMatchSelectWidth={false}
                    options={p.options.map((o) => ({ value: o.id, label: o.name }))}
                    onChange={(id) => set({ ...sells, [t.family]: { ...picked, [p.id]: id } })}
                  />
                ))}
              </div>
            )}
          </li>
        )
      })}
    </ul>
  )
}
