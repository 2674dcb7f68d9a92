import { Button, InputNumber, Segmented } from 'antd'
import { memo } from 'react'
import { starting, traitsOf } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { useKitchen } from '../shell/kitchen'
import { CavityRows, OnceRow } from './CavityFields'
import { AmountRow, type Editing, Group, like, NumberRow, OptionalAmount, Row, useFault } from './fields'
import { whichMoulds } from './moulds'
import { words } from './words'
import './treats.css'

/** The mould of a drink bomb. */
export const Shell = memo(function Shell({ f, set, sizes, rounds }: Editing) {
  const kitchen = useKitchen()
  const shell = f.shell!
  const change = (x: Partial<typeof shell>) => set({ shell: { ...shell, ...x } })
  const cup = f.choices.shape === 'cup'
  const fault = useFault()
  return (
    <Group name={words.shell2}>
      <AmountRow
        label={cup ? words.cupTopDiameter : words.mouldAcross}
        value={shell.across}
        onChange={(across) => change({ across })}
        path="shell.across"
      />
      {!cup && (
        <Row label={<small>{words.commonSizes}</small>}>
          {starting.balls.map((inches) => (
            <Button
              type="link"
              key={inches}
              className="link"
              onClick={() => change({ across: { amount: inches, unit: 'in' } })}
            >
              {inches} {words.in}
            </Button>
          ))}
        </Row>
      )}
      {cup && shell.base && (
        <AmountRow
          label={words.cupBaseDiameter}
          value={shell.base}
          onChange={(base) => change({ base })}
          path="shell.base"
        />
      )}
      {cup && shell.height && (
        <AmountRow
          label={words.cupHeight}
          value={shell.height}
          onChange={(height) => change({ height })}
          path="shell.height"
        />
      )}
      <Row
        label={
          <Segmented
            size="small"
            aria-label={words.givenBy}
            value={shell.wall ? 'wall' : 'mass'}
            options={[
              { value: 'wall', label: 'wall' },
              { value: 'mass', label: 'weight' },
            ]}
            onChange={(v) =>
              change(
                v === 'wall'
                  ? { mass: undefined, wall: like(starting.wall, sizes?.wall, 2) }
                  : { wall: undefined, mass: like(starting.shell, sizes?.shell, 1) },
              )
            }
          />
        }
        fault={fault(shell.wall ? 'shell.wall' : 'shell.mass')}
        path={shell.wall ? 'shell.wall' : 'shell.mass'}
      >
        {shell.wall ? (
          <AmountInput label={words.wall} value={shell.wall} onChange={(wall) => change({ wall })} />
        ) : (
          shell.mass && (
            <AmountInput label={words.chocolatePerPiece} value={shell.mass} onChange={(mass) => change({ mass })} />
          )
        )}
      </Row>
      {sizes?.wall && sizes.shell && (
        <p className="follows">
          {shell.wall ? words.aPieceTakes(kitchen.amount(sizes.shell)) : words.aWallOf(kitchen.amount(sizes.wall))}
          {sizes.holds &&
            sizes.fills &&
            words.theHollowHoldsThisFills(kitchen.amount(sizes.holds), kitchen.amount(sizes.fills))}
        </p>
      )}
      {sizes?.note && <p className="follows">{sizes.note}</p>}
      {shell.mug ? (
        <AmountRow label={words.forAMugOf} value={shell.mug} onChange={(mug) => change({ mug })} path="shell.mug" />
      ) : (
        <Button type="link" className="link" onClick={() => change({ mug: starting.mug })}>
          {words.addTheMugSize}
        </Button>
      )}
      {sizes?.mix && (
        <p className="follows">
          {sizes.mix.us} {words.ofMixMakesItMedium}
        </p>
      )}
      <NumberRow
        label={cup ? words.cupsAtATime : words.cavitiesInAMould}
        value={shell.cavities}
        onChange={(n) => change({ cavities: Math.round(n) })}
        path="shell.cavities"
      />
      <NumberRow
        label={shell.once ? words.mouldsAtATime : words.moulds}
        value={shell.moulds}
        onChange={(n) => change({ moulds: Math.round(n) })}
        path="shell.moulds"
      />
      <AtMost value={shell.atMost} onChange={(atMost) => change({ atMost })} path="shell.atMost" />
      <OnceRow once={shell.once} onChange={(once) => change({ once })} path="shell.once" />
      {rounds?.moulds && <p className="follows">{whichMoulds(rounds.moulds)}</p>}
    </Group>
  )
})

/** How many of its moulds a treat uses at a time; empty: all that there are. */
function AtMost({ value, onChange, path }: { value?: number; onChange: (n?: number) => void; path: string }) {
  const fault = useFault()(path)
  return (
    <Row label={words.mouldsUsedAtATime} fault={fault} path={path}>
      <InputNumber
        aria-label={words.mouldsAtATimeAt}
        value={value ?? null}
        min={1}
        controls={false}
        placeholder={words.all}
        status={fault ? 'error' : undefined}
        style={{ width: 110 }}
        onChange={(n) => onChange(n ? Math.round(n) : undefined)}
      />
    </Row>
  )
}

/** The mould of a moulded piece. */
export const Mould = memo(function Mould({ f, set, follow, sizes, rounds }: Editing) {
  const kitchen = useKitchen()
  const mould = f.mould!
  const change = (x: Partial<typeof mould>) => set({ mould: { ...mould, ...x } })
  const main = f.coatings.find((c) => c.role === 'shell')
  const capped = (share: number) => {
    const others = f.coatings.filter((c) => c.role !== 'cap')
    follow({
      mould: { ...mould, cap: share },
      coatings:
        share > 0 && main
          ? f.coatings.some((c) => c.role === 'cap')
            ? f.coatings
            : [...others, { role: 'cap', ingredient: main.ingredient, pool: starting.capPool }]
          : others,
    })
  }
  // What is used up is foil or paper, and leaves the piece in its own way.
  const used = (once?: string) => {
    const { mould: _, ...choices } = f.choices
    follow({ mould: { ...mould, once }, choices: once ? { ...choices, mould: 'foil' } : choices })
  }
  return (
    <Group name={words.mould2}>
      <CavityRows mould={mould} change={change} />
      <NumberRow
        label={words.shellShareOfTheCavity}
        value={mould.shell * 100}
        onChange={(n) => change({ shell: n / 100 })}
        path="mould.shell"
        unit="%"
      />
      <NumberRow
        label={words.capShareOfTheCavity}
        value={mould.cap * 100}
        onChange={(n) => capped(n / 100)}
        path="mould.cap"
        unit="%"
      />
      <OptionalAmount
        label={words.trimmedOffTheRim}
        add={words.addWhatIsTrimmed}
        value={mould.trim}
        begins={starting.trim}
        onChange={(trim) => follow({ mould: { ...mould, trim } })}
        path="mould.trim"
      />
      {sizes?.shell && (
        <p className="follows">
          {words.shell} {kitchen.amount(sizes.shell)}
          {words.wallsAbout} {sizes.wall && kitchen.amount(sizes.wall)}
          {sizes.centre && words.ofFill(kitchen.amount(sizes.centre))}
        </p>
      )}
      <NumberRow
        label={words.cavitiesInAMould}
        value={mould.cavities}
        onChange={(n) => change({ cavities: Math.round(n) })}
        path="mould.cavities"
      />
      <NumberRow
        label={mould.once ? words.mouldsAtATime : words.moulds}
        value={mould.moulds}
        onChange={(n) => change({ moulds: Math.round(n) })}
        path="mould.moulds"
      />
      <AtMost value={mould.atMost} onChange={(atMost) => change({ atMost })} path="mould.atMost" />
      <OnceRow once={mould.once} onChange={used} path="mould.once" />
      {rounds?.moulds && <p className="follows">{whichMoulds(rounds.moulds)}</p>}
    </Group>
  )
})

/** The sheet of bark, the pan of fudge. */
export const Sheet = memo(function Sheet({ f, set }: Editing) {
  const sheet = f.sheet!
  const change = (x: Partial<typeof sheet>) => set({ sheet: { ...sheet, ...x } })
  const { bagged } = traitsOf(f.family)
  const fault = useFault()
  return (
    <Group name={bagged ? words.sheet : words.pan}>
      <AmountRow
        label={words.length}
        value={sheet.length}
        onChange={(length) => change({ length })}
        path="sheet.length"
      />
      <AmountRow label={words.width} value={sheet.width} onChange={(width) => change({ width })} path="sheet.width" />
      <AmountRow
        label={bagged ? words.depthOfChocolate : words.depth}
        value={sheet.depth}
        onChange={(depth) => change({ depth })}
        path="sheet.depth"
      />
      {sheet.bag && (
        <AmountRow label={words.weightPerBag} value={sheet.bag} onChange={(bag) => change({ bag })} path="sheet.bag" />
      )}
      {!bagged && (
        <>
          <Row label={words.cutInto} fault={fault('sheet.rows')} path="sheet.rows">
            <InputNumber
              aria-label={words.rows}
              value={sheet.rows ?? 1}
              min={1}
              controls={false}
              style={{ width: 60 }}
              onChange={(rows) => rows !== null && change({ rows: Math.round(rows) })}
            />{' '}
            {words.by}
            <span data-path="sheet.columns">
              {' '}
              <InputNumber
                aria-label={words.columns}
                value={sheet.columns ?? 1}
                min={1}
                controls={false}
                style={{ width: 60 }}
                onChange={(columns) => columns !== null && change({ columns: Math.round(columns) })}
              />
            </span>
          </Row>
          <AmountRow
            label={words.trimAtEachEdge}
            value={sheet.trim ?? { amount: 0, unit: sheet.length.unit }}
            onChange={(trim) => change({ trim })}
            path="sheet.trim"
          />
        </>
      )}
    </Group>
  )
})
