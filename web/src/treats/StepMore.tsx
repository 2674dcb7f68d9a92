import { Button, Checkbox, Input, InputNumber, Select } from 'antd'
import { type ReactNode } from 'react'
import { roleWord } from './ChocolateFields'
import { type Pantry } from './fields'
import { Prepare } from './Prepare'
import type { Work } from './Steps'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

/**
 * What else a step is: where it stands, what to look for, the chocolate it works with, the moulds it holds and until
 * when, what goes in and how that is prepared, whether it goes by rounds or beside the others.
 */
export function StepMore({
  f,
  s,
  i,
  pantry,
  change,
  insert,
  move,
}: {
  f: Formula
  s: Work
  i: number
  pantry: Pantry
  change: (x: Partial<Work>) => void
  insert: (after: boolean) => void
  move: (by: number) => void
}) {
  const later = f.steps.slice(i + 1)
  const there = [...new Set([...f.coatings, ...(f.finishes ?? []).flatMap((d) => d.coatings ?? [])].map((c) => c.role))]
  const moulds = Boolean(f.shell || f.mould)
  const roles = there.map((r) => ({ value: r as string, label: roleWord(r).toLowerCase() }))
  const part = (key: string, children: ReactNode, title?: string) => (
    <span data-path={`steps[${i}].${key}`} title={title}>
      {children}
    </span>
  )
  return (
    <div className="step-more">
      <span className="step-moves">
        <Button size="small" disabled={i === 0} aria-label={words.moveUp(s.name)} onClick={() => move(-1)}>
          ↑ {words.up}
        </Button>
        <Button size="small" disabled={later.length === 0} aria-label={words.moveDown(s.name)} onClick={() => move(1)}>
          ↓ {words.down}
        </Button>
        <Button size="small" aria-label={words.insertBefore2(s.name)} onClick={() => insert(false)}>
          {words.insertBefore}
        </Button>
        <Button size="small" aria-label={words.insertAfter2(s.name)} onClick={() => insert(true)}>
          {words.insertAfter}
        </Button>
      </span>
      <span className="step-told">
        {part(
          'look',
          <Input
            aria-label={words.whatToLookFor(s.name)}
            prefix={<span className="soft">{words.lookFor}</span>}
            value={s.look ?? ''}
            placeholder={words.lookExample}
            onChange={(e) => change({ look: e.target.value || undefined })}
          />,
        )}
        {part(
          'note',
          <Input
            aria-label={words.noteOfStep(s.name)}
            prefix={<span className="soft">{words.note}</span>}
            value={s.note ?? ''}
            onChange={(e) => change({ note: e.target.value || undefined })}
          />,
        )}
      </span>
      {part(
        'beside',
        <>
          {words.doneBeside}{' '}
          <Select
            aria-label={words.besideUntil(s.name)}
            value={s.beside ?? ''}
            style={{ minWidth: 190 }}
            popupMatchSelectWidth={false}
            onChange={(beside) => change({ beside: beside || undefined })}
            options={[
              { value: '', label: words.noItFollows },
              ...later.filter((x) => !x.beside).map((x) => ({ value: x.id, label: words.beforeStep(x.name) })),
            ]}
          />
        </>,
      )}
      {part(
        'pot',
        <>
          {words.worksWith}{' '}
          <Select
            aria-label={words.itsChocolate(s.name)}
            value={s.pot ?? ''}
            style={{ width: 140 }}
            onChange={(pot) => change({ pot: (pot || undefined) as Work['pot'], part: pot ? s.part : undefined })}
            options={[{ value: '', label: words.noChocolate }, ...roles]}
          />
        </>,
      )}
      {s.pot &&
        part(
          'part',
          <>
            {words.ofItHere}{' '}
            <InputNumber
              aria-label={words.shareOfItsChocolate(s.name)}
              value={s.part ? Number((s.part * 100).toFixed(1)) : null}
              min={0}
              max={100}
              suffix="%"
              controls={false}
              placeholder={words.all}
              style={{ width: 74 }}
              onChange={(n) => change({ part: n ? n / 100 : undefined })}
            />
          </>,
        )}
      {there.length > 1 &&
        part(
          'ready',
          <>
            {words.alsoReady}{' '}
            <Select
              aria-label={words.alsoReadyFor(s.name)}
              mode="multiple"
              value={s.ready ?? []}
              style={{ minWidth: 120 }}
              onChange={(ready) => change({ ready: ready.length > 0 ? ready : undefined })}
              options={there.filter((r) => r !== s.pot).map((r) => ({ value: r, label: roleWord(r).toLowerCase() }))}
            />
          </>,
        )}
      {part(
        'adds',
        <>
          {words.putsIn}{' '}
          <Select
            aria-label={words.whatGoesIn2(s.name)}
            mode="multiple"
            value={s.adds ?? []}
            style={{ minWidth: 150 }}
            onChange={(adds) => change({ adds })}
            options={[
              { value: 'centre' as const, label: words.theCentre },
              { value: 'in' as const, label: words.whatIsInIt },
              { value: 'on' as const, label: words.whatIsOnIt },
            ]}
          />
        </>,
      )}
      {moulds &&
        part(
          'rounds',
          <Checkbox checked={Boolean(s.rounds)} onChange={(e) => change({ rounds: e.target.checked || undefined })}>
            {words.onceARound}
          </Checkbox>,
        )}
      {moulds &&
        part(
          'moulds',
          <>
            {words.moulds2}{' '}
            <span data-path={`steps[${i}].until`}>
              <Select
                aria-label={words.moulds3(s.name)}
                value={s.moulds ? (s.until ?? 'own') : ''}
                style={{ width: 200 }}
                onChange={(v) =>
                  change({ moulds: v === '' ? undefined : true, until: v === '' || v === 'own' ? undefined : v })
                }
                options={[
                  { value: '', label: words.takesNone },
                  { value: 'own', label: words.heldUntilItHasSet },
                  ...later.map((x) => ({ value: x.id, label: words.heldUntil(x.name) })),
                ]}
              />
            </span>
          </>,
        )}
      {f.mould?.trim &&
        part(
          'trims',
          <Checkbox checked={Boolean(s.trims)} onChange={(e) => change({ trims: e.target.checked || undefined })}>
            {words.trimsTheRims}
          </Checkbox>,
        )}
      {later.length > 0 &&
        part(
          'loss',
          <>
            {words.lostHere}{' '}
            <InputNumber
              aria-label={words.lostHere2(s.name)}
              value={Number(((s.loss ?? 0) * 100).toFixed(2))}
              min={0}
              max={90}
              suffix="%"
              controls={false}
              style={{ width: 74 }}
              onChange={(n) => change({ loss: n ? n / 100 : undefined })}
            />
          </>,
          words.asAShareOfThe,
        )}
      {i > 0 &&
        part(
          'alone',
          <Checkbox checked={Boolean(s.alone)} onChange={(e) => change({ alone: e.target.checked || undefined })}>
            {words.nothingBetween}
          </Checkbox>,
        )}
      {part(
        'ages',
        <Checkbox checked={Boolean(s.ages)} onChange={(e) => change({ ages: e.target.checked || undefined })}>
          {words.shelfLifeStartsHere}
        </Checkbox>,
      )}
      <Prepare f={f} s={s} i={i} pantry={pantry} change={change} />
    </div>
  )
}
