import { Button, Checkbox, Input } from 'antd'
import type { Part } from './Event'
import { words } from './words'

/** Who brings what, ticked once it is there. */
export function Brings({ e, set, fault }: Part) {
  const at = (i: number, change: Partial<(typeof e.brings)[number]>) =>
    set({ brings: e.brings.map((b, n) => (n === i ? { ...b, ...change } : b)) })
  return (
    <section aria-label={words.brings}>
      <h2>{words.brings}</h2>
      <ul className="event-rows">
        {e.brings.map((b, i) => (
          <li key={i} className={b.done ? 'done' : undefined}>
            <Checkbox
              aria-label={words.there(b.what)}
              checked={b.done}
              onChange={(x) => at(i, { done: x.target.checked })}
            />
            <Input
              aria-label={words.what(i + 1)}
              placeholder={words.whatExample}
              value={b.what}
              status={fault(`brings[${i}].what`) ? 'error' : undefined}
              onChange={(x) => at(i, { what: x.target.value })}
            />
            <Input
              className="event-who"
              aria-label={words.who(i + 1)}
              placeholder={words.whoExample}
              value={b.who}
              onChange={(x) => at(i, { who: x.target.value })}
            />
            <Button
              type="link"
              className="link quiet"
              aria-label={words.remove(b.what)}
              onClick={() => set({ brings: e.brings.filter((_, n) => n !== i) })}
            >
              ×
            </Button>
            {fault(`brings[${i}].what`) && (
              <span className="fault" role="alert">
                {fault(`brings[${i}].what`)}
              </span>
            )}
          </li>
        ))}
      </ul>
      <Button
        type="link"
        className="link"
        onClick={() => set({ brings: [...e.brings, { what: '', who: '', done: false }] })}
      >
        {words.addBring}
      </Button>
    </section>
  )
}
