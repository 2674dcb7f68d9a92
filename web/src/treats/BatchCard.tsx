import { Button, InputNumber, Select, Slider } from 'antd'
import { type Dispatch, memo, type SetStateAction } from 'react'
import { Refused, type Schemas } from '../api/client'
import { type Family, traitsOf } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { lookOf } from '../kit/chocolate'
import { Figure } from '../kit/Figure'
import { Sign } from '../kit/glyphs'
import { begun, Line, Part } from '../orders/Estimate'
import { useSpotName } from '../plan/Space'
import { minutes, useKitchen } from '../shell/kitchen'
import type { Pantry } from './fields'
import { Have } from './Have'
import { whichMoulds } from './moulds'
import type { Formula, Treat } from './TreatPage'
import { Ladder } from './Ladder'
import { words } from './words'
import './treats.css'

export type Counting = Schemas['BatchWant']

/** The count that a family is first shown for. */
export const beginWith = (family: Family): Counting =>
  traitsOf(family).bagged
    ? { amount: 20, as: 'bags' }
    : { amount: traitsOf(family).drawn === 'ball' ? 40 : 24, as: 'pieces' }

/** Ways to count a family. */
const ways = (family: Family): { value: Counting['as']; label: string }[] => [
  ...(traitsOf(family).bagged
    ? [{ value: 'bags' as const, label: 'bags' }]
    : [
        { value: 'pieces' as const, label: 'pieces' },
        { value: 'dozen' as const, label: 'dozen' },
        { value: 'bags' as const, label: words.bagsOf },
      ]),
  ...(traitsOf(family).rounds
    ? [{ value: traitsOf(family).rounds as Counting['as'], label: traitsOf(family).rounds }]
    : []),
  { value: 'kg', label: 'kg' },
  { value: 'lb', label: 'lb' },
]

const longest: Partial<Record<Counting['as'], number>> = {
  pieces: 120,
  bags: 60,
  dozen: 12,
  rounds: 12,
  sheets: 12,
  pans: 12,
  kg: 8,
  lb: 16,
}

/** The same count said in another way, as the card has it; rounded to what can be counted so. */
function recount(now: Counting, as: Counting['as'], card?: Schemas['BatchCard']): Counting {
  const said = card?.counts.find((c) => c.as === as)
  return said ? { amount: said.amount, as, bag: said.bag } : { ...now, as }
}

interface Props {
  treat: Treat
  f: Formula
  card?: Schemas['BatchCard']
  why?: string
  error: Error | null
  counting: Counting
  setCounting: Dispatch<SetStateAction<Counting>>
  pantry: Pantry
  dirty: boolean
}

/** All that follows from the formula and a count that can be dragged. */
export function BatchCard({ treat, f, card: c, why, error, counting, setCounting, pantry, dirty }: Props) {
  const wrong = error instanceof Refused ? (error.problem.errors?.[0]?.message ?? error.message) : error?.message
  const { bagged } = traitsOf(f.family)
  const query = new URLSearchParams({
    amount: String(counting.amount),
    as: counting.as,
    ...(counting.bag ? { bag: String(counting.bag.amount) } : {}),
  })
  return (
    <aside className="takes" aria-label={words.batchCard}>
      <p className="kicker">{words.batchCard}</p>
      {wrong && (
        <p className="fault" role="alert">
          <Sign kind="trouble" size={14} /> {wrong}
        </p>
      )}
      {c && (
        <div className="price-head">
          <span className="big">
            {c.good} {bagged ? c.sold : words.good}
          </span>
          <span className="pay">
            <Figure why={c.startWhy}>
              <b className="fine">{begun(c)}</b>
            </Figure>
          </span>
        </div>
      )}
      <div className="counting no-print">
        <InputNumber
          aria-label={words.howMany}
          size="small"
          value={counting.amount}
          min={0}
          controls={false}
          style={{ width: 58 }}
          onChange={(n) => n !== null && setCounting((now) => ({ ...now, amount: n }))}
        />
        <Select
          aria-label={words.countedIn}
          size="small"
          value={counting.as}
          style={{ width: 92 }}
          options={ways(f.family)}
          onChange={(as) => setCounting((now) => recount(now, as, c))}
        />
        {counting.bag && (
          <AmountInput
            label={words.weightPerBag}
            width={64}
            value={counting.bag}
            onChange={(bag) => setCounting((now) => ({ ...now, bag }))}
          />
        )}
      </div>
      <Slider
        ariaLabelForHandle={words.quantitySlider}
        min={1}
        max={longest[counting.as] ?? 100}
        step={1}
        value={counting.amount}
        onChange={(amount) => setCounting((now) => ({ ...now, amount }))}
        tooltip={{ open: false }}
      />
      {why && <p className="follows">{why}</p>}
      {c && <Contents c={c} pantry={pantry} />}
      <Have f={f} pantry={pantry} card={c} />
      <Ladder treat={treat} />
      <p className="take-away no-print">
        {dirty ? (
          <small className="soft">{words.saveFirstThenPrintOr}</small>
        ) : (
          <>
            <a href={`/api/v1/treats/${treat.id}/batch-card.pdf?${query}`} download>
              {words.batchCardAsPdf}
            </a>
            <Button type="link" className="link" onClick={() => window.print()}>
              {words.print}
            </Button>
            <a href={`/api/v1/treats/${treat.id}/file`} download>
              {words.treatAsAFile}
            </a>
            <a href={`/api/v1/treats/${treat.id}/recipe?${query}`} download>
              {words.recipeJsonLd}
            </a>
          </>
        )}
      </p>
    </aside>
  )
}

const Contents = memo(function Contents({ c, pantry }: { c: Schemas['BatchCard']; pantry: Pantry }) {
  const kitchen = useKitchen()
  const melted = new Set(c.pots.map((p) => p.ingredient))
  return (
    <>
      {c.rounds && (
        <Part name={{ rounds: words.rounds, sheets: words.sheets, pans: words.pans }[c.rounds.word] ?? words.rounds}>
          <Line figure={c.rounds.count} why={c.rounds.why} note={c.rounds.fill}>
            {c.rounds.text}
          </Line>
          {c.rounds.hint && <small className="soft">{c.rounds.hint}</small>}
          {c.rounds.moulds && <small className="soft">{whichMoulds(c.rounds.moulds)}</small>}
        </Part>
      )}
      {c.stages.length > 1 && (
        <Part name={words.begin}>
          {c.stages.map((s) => (
            <Line key={s.step} figure={`${s.begin} ${s.of}`} note={words.lost(Math.round(s.loss * 1000) / 10)}>
              {c.steps.find((x) => x.id === s.step || x.id.startsWith(`${s.step}-`))?.name.replace(/, 1 of \d+$/, '') ??
                s.step}
            </Line>
          ))}
        </Part>
      )}
      {(c.designs ?? []).length > 0 && (
        <Part name={words.designs}>
          {c.designs.map((d) => (
            <Line key={d.name} figure={d.good} why={d.why} note={d.start > d.good ? words.start(d.start) : undefined}>
              {d.name}
            </Line>
          ))}
        </Part>
      )}
      {c.pots.map((p, i) => (
        <Part key={i} name={words.pot}>
          <Line figure={kitchen.amount(p.melted)} why={p.why}>
            <i
              className={`swatch c-${lookOf(p.chocolate).word}`}
              style={{ background: lookOf(p.chocolate).fill, borderColor: lookOf(p.chocolate).edge }}
              aria-hidden="true"
            />{' '}
            {p.name}
          </Line>
          {p.seed && (
            <Line figure={kitchen.amount(p.seed)} why={p.advice}>
              {words.ofItHeldBackAs}
            </Line>
          )}
          <Line figure={kitchen.amount(p.used)} why={p.why}>
            {words.used}
          </Line>
          {p.drained.amount > 0 && (
            <Line figure={kitchen.amount(p.drained)} why={words.drainsOutOfTheMoulds}>
              {words.drainsBack}
            </Line>
          )}
          {p.pool.amount > 0 && (
            <Line figure={kitchen.amount(p.pool)} why={words.dippingNeedsSomeDepthThis}>
              {words.workingPool}
            </Line>
          )}
          <Line figure={kitchen.amount(p.reclaimed)} why={p.why}>
            {words.comesBack}
          </Line>
          <ol className="tempering">
            {p.tempering.steps.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ol>
          <Figure why={p.additions}>
            <small>{words.thinningAndFlavoring}</small>
          </Figure>
          {p.rewarm && (
            <Line figure={p.rewarm.cooled ? p.rewarm.pieces : words.all} why={p.rewarm.why}>
              {words.goInBeforeReWarming}
            </Line>
          )}
        </Part>
      ))}
      {(c.mixes ?? []).map((m) => (
        <Part key={m.mix} name={words.mix}>
          <Line figure={kitchen.amount(m.make)} why={m.why}>
            {m.name}
          </Line>
          {m.parts.map((p) => (
            <Line key={p.of} figure={kitchen.amount(p.amount)} note={`(${kitchen.other(p.amount)})`}>
              {p.name}
            </Line>
          ))}
        </Part>
      ))}
      {c.boil && (
        <Part name={words.boil}>
          <Line figure={c.boil.at} why={c.boil.why}>
            {words.softBallHere}
          </Line>
          <small className="soft">{c.boil.text}</small>
        </Part>
      )}
      <Part name={words.ingredients}>
        {c.needs.map((n) => (
          <Line
            key={n.ingredient}
            figure={kitchen.amount(n.house)}
            why={n.why}
            note={
              melted.has(n.ingredient) && n.house.amount > n.used.amount + 1
                ? words.ofItUsed(kitchen.amount(n.used))
                : `(${kitchen.other(n.house)})`
            }
          >
            {pantry.name(n.ingredient)}
          </Line>
        ))}
      </Part>
      {c.note && (
        <Part name={words.note}>
          <p className="step-note">{c.note}</p>
        </Part>
      )}
      <details className="have card-steps">
        <summary>{words.stepByStepWithAmounts}</summary>
        <CardSteps steps={c.steps} />
      </details>
      <Part name={words.time}>
        <Line figure={minutes(c.hands)} why={c.handsWhy}>
          {words.handsOn}
        </Line>
        <Line figure={minutes(c.wait)} why={c.handsWhy}>
          {words.settingAndDrying}
        </Line>
      </Part>
      <Part name={words.piece}>
        <Line figure={kitchen.amount(c.piece)} why={c.pieceWhy}>
          {words.oneWeighs}
        </Line>
        <p className="care">
          {c.allergens.length > 0 ? words.contains(c.allergens.join(', ')) : words.noneOfTheAllergensIn}
          {(c.diets ?? []).length > 0 && words.suits(c.diets.join(', '))}
        </p>
        {c.kept.text.length > 0 && <p className="care">{c.kept.text.join(' ')}</p>}
        <details className="label-text">
          <summary>{words.ingredientsForTheLabel}</summary>
          <p>{c.label}</p>
          <p>
            {words.aLabelNames} {c.declared.join(', ') || words.noAllergen}
            {words.thatIsByTheLaw}
          </p>
          <p>{c.kept.text.join(' ')}</p>
        </details>
      </Part>
      {((c.care ?? []).length > 0 || c.spare) && (
        <Part name={words.watchOut}>
          {c.care.map((text) => (
            <p key={text} className="care">
              {text}
            </p>
          ))}
          {c.spare && <p className="care">{c.spare}</p>}
        </Part>
      )}
    </>
  )
})

type CardStep = Schemas['BatchStep']

/** The steps of a card; those that go by rounds are one line each, opened when it is wanted. */
function CardSteps({ steps }: { steps: CardStep[] }) {
  const groups = new Map<string, CardStep[]>()
  for (const s of steps) {
    const key = s.round ? `${s.round.of}/${s.role ?? ''}` : s.id
    groups.set(key, [...(groups.get(key) ?? []), s])
  }
  return (
    <ol>
      {[...groups].map(([key, list]) =>
        list.length < 3 ? (
          list.map((s) => <CardStepLine key={s.id} s={s} />)
        ) : (
          <li key={key}>
            <b>{list[0]!.round!.name}</b> <small>{roundsOf(list)}</small>
            {(list[0]!.inAll ?? list[0]!.amounts).map((a) => (
              <span key={a} className="step-amount">
                {a}
              </span>
            ))}
            <StepTold s={list[0]!} />
            <details className="rounds">
              <summary>{words.eachRound}</summary>
              <ol>
                {list.map((s) => (
                  <CardStepLine key={s.id} s={s} quiet />
                ))}
              </ol>
            </details>
          </li>
        ),
      )}
    </ol>
  )
}

/** "rounds 1 to 12, 11 pieces each, 1 h 20 min" */
function roundsOf(list: CardStep[]): string {
  const first = list[0]!.round!
  const last = list[list.length - 1]!.round!
  const hands = minutes(list.reduce((n, s) => n + s.hands, 0))
  return first.pieces === last.pieces
    ? words.roundsEach(first.at, last.at, first.pieces, hands)
    : words.roundsAndLast(first.at, last.at, first.pieces, last.pieces, hands)
}

function CardStepLine({ s, quiet }: { s: CardStep; quiet?: boolean }) {
  const spot = useSpotName()
  return (
    <li>
      <b>{s.name}</b>{' '}
      <small>
        {minutes(s.hands)}
        {s.wait > 0 && words.then2(minutes(s.wait), spot(s.place))}
        {(s.trays ?? 0) > 0 && `, ${s.trays} ${s.trays === 1 ? words.tray : words.trays}`}
        {(s.takes ?? []).length > 0 &&
          words.holds(s.takes![0]!.count, s.takes![0]!.count === 1 ? words.mould : words.moulds2)}
      </small>
      {s.amounts.map((a, i) => (
        <span key={i} className="step-amount">
          {a}
        </span>
      ))}
      {(s.inAll ?? []).length > 0 && !quiet && (
        <small className="soft">
          {words.inAllRounds} {s.inAll!.join(', ')}
        </small>
      )}
      {!quiet && <StepTold s={s} />}
    </li>
  )
}

/** What the seller says of a step: what to look for, and their note. */
const StepTold = ({ s }: { s: CardStep }) => (
  <>
    {s.look && <span className="step-look">{words.lookForIt(s.look)}</span>}
    {s.note && <span className="step-note">{s.note}</span>}
  </>
)
