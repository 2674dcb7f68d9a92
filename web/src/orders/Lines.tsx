import { useQuery } from '@tanstack/react-query'
import { Button, Input, InputNumber, Select, type SelectProps } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { lookOf } from '../kit/chocolate'
import { Glyph } from '../kit/glyphs'
import { type Kitchen, useKitchen } from '../shell/kitchen'
import { useShortcut } from '../shell/useShortcut'
import { NewTreat } from '../starter/NewTreat'
import { LineAsks } from './LineAsks'
import type { Writing } from './Sentence'
import { words } from './words'

/** Mixed boxes as they are without a line of the order: what is in none of them is in no box. */
function without(sets: Schemas['OrderDraft']['sets'], line: number) {
  const left = (sets ?? [])
    .map((s) => ({ ...s, pieces: s.pieces.filter((_, i) => i !== line) }))
    .filter((s) => s.pieces.some((n) => n > 0))
  return left.length > 0 ? left : undefined
}

/** What is ordered, and how many of each; what sells most is added by a button. */
export function OrderLines({
  draft,
  set,
  fault,
  cards,
  allergens,
}: Writing & { cards?: Schemas['OrderLineCard'][]; allergens: string[] }) {
  const kitchen = useKitchen()
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const adding = useRef<HTMLDivElement>(null)
  const [choosing, setChoosing] = useState(false)
  const [noting, setNoting] = useState<number>() // the line whose note is being typed
  useShortcut(['a'], () => {
    adding.current?.querySelector('input')?.focus()
    setChoosing(true)
  })

  const add = (treat: string) => {
    setChoosing(false)
    set({ lines: [...draft.lines, { treat, count: 12 }] })
    // The count of the new line is what one types next.
    setTimeout(() => document.querySelector<HTMLInputElement>('.order-lines li:last-child .count input')?.select())
  }
  const [making, setMaking] = useState(false)
  const often = (treats.data?.treats ?? [])
    .filter((t) => t.formula && !draft.lines.some((l) => l.treat === t.id))
    .sort((a, b) => b.orders - a.orders)
    .slice(0, 4)
  const options: SelectProps['options'] = treats.data?.treats.map((t) => ({
    value: t.id,
    label: t.formula ? t.name : words.noRecipeYet(t.name),
    disabled: !t.formula,
  }))

  return (
    <>
      <ul className="order-lines">
        {draft.lines.map((line, i) => {
          const treat = treats.data?.treats.find((t) => t.id === line.treat)
          const card = cards?.[i]?.treat === line.treat ? cards?.[i]?.card : undefined
          const wrongLine =
            fault(`lines[${i}].count`) ??
            fault(`lines[${i}].treat`) ??
            fault(`lines[${i}].coating`) ??
            fault(`lines[${i}].note`)
          const look = lookOf(card?.look ?? { kind: 'real', colour: 'dark' })
          const change = (count: number) => set({ lines: draft.lines.map((l, j) => (j === i ? { ...l, count } : l)) })
          return (
            <li key={i}>
              <span
                className={`chip c-${look.word}`}
                style={{ background: look.fill, color: look.ink, borderColor: look.edge }}
              >
                {treat?.formula && <Glyph family={treat.formula.family} size={22} />}
              </span>
              <span className="line-name">
                <b>{treat?.name ?? '…'}</b>
                <small>{card ? lineNote(kitchen, card) : ''}</small>
                {(line.note !== undefined || noting === i) && (
                  <Input
                    size="small"
                    autoFocus={noting === i}
                    aria-label={words.noteOfLine(treat?.name ?? '')}
                    placeholder={words.noteOfLineExample}
                    value={line.note ?? ''}
                    status={fault(`lines[${i}].note`) ? 'error' : undefined}
                    onBlur={() => setNoting(undefined)}
                    onChange={(e) =>
                      set({
                        lines: draft.lines.map((l, j) => (j === i ? { ...l, note: e.target.value || undefined } : l)),
                      })
                    }
                  />
                )}
                {line.note === undefined && noting !== i && (
                  <Button
                    type="link"
                    className="link add-note"
                    aria-label={words.addNoteTo(treat?.name ?? '')}
                    onClick={() => setNoting(i)}
                  >
                    {words.addNote}
                  </Button>
                )}
                {treat && (
                  <LineAsks
                    line={line}
                    name={treat.name}
                    allergens={allergens}
                    change={(x) => set({ lines: draft.lines.map((l, j) => (j === i ? { ...l, ...x } : l)) })}
                  />
                )}
                {line.coating && (
                  <Button
                    className="pill"
                    aria-pressed="true"
                    onClick={() =>
                      set({ lines: draft.lines.map((l, j) => (j === i ? { ...l, coating: undefined } : l)) })
                    }
                  >
                    {words.coated}
                  </Button>
                )}
                {wrongLine && (
                  <span className="fault" role="alert">
                    {wrongLine}
                  </span>
                )}
              </span>
              <span className="count">
                <Button aria-label={words.oneLess(treat?.name ?? '')} onClick={() => change(line.count - 1)}>
                  −
                </Button>
                <InputNumber
                  aria-label={words.countOf(treat?.name ?? '')}
                  value={line.count}
                  precision={0}
                  controls={false}
                  status={wrongLine ? 'error' : undefined}
                  onChange={(n) => change(n ?? 0)}
                />
                <Button aria-label={words.oneMore(treat?.name ?? '')} onClick={() => change(line.count + 1)}>
                  +
                </Button>
              </span>
              <span className="unit">{card?.sold ?? ''}</span>
              <Button
                type="text"
                aria-label={words.remove(treat?.name ?? '')}
                onClick={() =>
                  set({
                    lines: draft.lines.filter((_, j) => j !== i),
                    sets: without(draft.sets, i),
                  })
                }
              >
                ×
              </Button>
            </li>
          )
        })}
      </ul>
      <div className="add-treat" ref={adding}>
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          open={choosing}
          onOpenChange={setChoosing}
          value={null}
          placeholder={words.addTreat}
          aria-label={words.addTreat}
          options={options}
          onChange={add}
          style={{ width: 260 }}
          notFoundContent={words.noTreat}
        />
        <kbd aria-hidden="true">a</kbd>
        {often.map((t) => (
          <Button key={t.id} size="small" className="often" aria-label={words.add(t.name)} onClick={() => add(t.id)}>
            <Glyph family={t.formula!.family} size={14} /> {t.name}
          </Button>
        ))}
        <Button size="small" type="link" onClick={() => setMaking(true)}>
          {words.newTreat}
        </Button>
      </div>
      {making && (
        <NewTreat
          close={() => setMaking(false)}
          made={(id) => {
            setMaking(false)
            add(id)
          }}
        />
      )}
    </>
  )
}

function lineNote(kitchen: Kitchen, card: Schemas['BatchCard']): string {
  return words.pieceKeeps(kitchen.amount(card.piece), traitsOf(card.family).one, card.keeps)
}
