import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { starting } from '../api/families'
import { Blank } from '../kit/Blank'
import { Sign } from '../kit/glyphs'
import { type Taken, useTable } from '../shell/tableTreat'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './scratch.css'

/**
 * One calculation: a sentence with blanks, and what follows from it as one types. While an answer is late, the one
 * before stays to be read, but not to be taken.
 */
function useAnswer<T>(key: unknown[], question: () => Promise<T>) {
  const q = useQuery({
    queryKey: ['scratch', ...key],
    queryFn: question,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  })
  const refused = q.error instanceof Refused ? q.error : undefined
  return { data: refused ? undefined : q.data, refused, late: q.isPlaceholderData }
}

/** One of a few, in the middle of a sentence. */
function Choice(p: {
  label: string
  value: string
  options: { value: string; label: string }[]
  set: (chosen: string) => void
}) {
  return (
    <Select
      size="small"
      variant="underlined"
      aria-label={p.label}
      showSearch={p.options.length > 8 && { optionFilterProp: 'label' }}
      popupMatchSelectWidth={false}
      value={p.value}
      options={p.options}
      onChange={p.set}
    />
  )
}

const Field = ({
  label,
  value,
  set,
  width = 8,
}: {
  label: string
  value: string
  set: (s: string) => void
  width?: number
}) => <Blank label={label} value={value} wide={width} onChange={(e) => set(e.target.value)} />

function Answer({
  of: { refused, late },
  children,
}: {
  of: { refused?: Refused; late: boolean }
  children: ReactNode
}) {
  return (
    <div className="pad-answer" role="status">
      {refused ? (
        <p className="fault">{refused.problem.errors?.[0]?.message ?? refused.message}</p>
      ) : (
        <fieldset disabled={late}>{children}</fieldset>
      )}
    </div>
  )
}

/** Puts a result into the treat that is being edited, where one lies on the table that can take it. */
function Take({ what, taken }: { what: keyof Taken; taken?: Taken }) {
  const { treat } = useTable()
  if (!treat?.takes[what] || !taken) return null
  return (
    <Button type="link" className="link take" onClick={() => treat.take(taken)}>
      {words.takeItInto} {treat.name}
    </Button>
  )
}

const written = (q: Schemas['MeasureQuantity']) => `${q.amount} ${q.unit}`

const number = (text: string) => Number(text.replace(',', '.'))

function Convert() {
  const [text, setText] = useState('1 1/2 cups')
  const [ingredient, setIngredient] = useState('')
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const a = useAnswer(['convert', text, ingredient], () =>
    ask(api.POST('/api/v1/calculators/convert', { body: { text, ingredient: ingredient || undefined } })),
  )
  return (
    <>
      <p>
        <Field label={words.amount} value={text} set={setText} width={10} /> {words.of}{' '}
        <Choice
          label={words.ingredient}
          value={ingredient}
          options={[
            { value: '', label: 'anything' },
            ...(larder.data?.ingredients ?? []).map((i) => ({ value: i.id, label: i.name })),
          ]}
          set={(chosen) => setIngredient(chosen)}
        />
      </p>
      <Answer of={a}>
        <p className="pad-result">{a.data?.text}</p>
        <ul className="pad-units">
          {a.data?.amounts.map((q) => (
            <li key={q.unit}>
              <b>{Number(q.amount.toPrecision(4))}</b> {q.unit}
            </li>
          ))}
        </ul>
        {a.data?.missing && <small>{a.data.missing}</small>}
        <Take
          what="portion"
          taken={
            ingredient && a.data?.amounts[0]
              ? {
                  portion: {
                    ingredient,
                    each: { amount: Number(a.data.amounts[0].amount.toPrecision(6)), unit: a.data.amounts[0].unit },
                  },
                }
              : undefined
          }
        />
      </Answer>
    </>
  )
}

function Extras() {
  const [good, setGood] = useState('48')
  const [loss, setLoss] = useState('8')
  const [sure, setSure] = useState('95')
  const a = useAnswer(['extras', good, loss, sure], () =>
    ask(
      api.POST('/api/v1/calculators/extras', {
        body: { good: Math.round(number(good)), loss: number(loss) / 100, sure: number(sure) / 100 },
      }),
    ),
  )
  return (
    <>
      <p>
        {words.for} <Field label={words.goodPieces} value={good} set={setGood} width={3} /> {words.goodAt}{' '}
        <Field label={words.lossInPercent} value={loss} set={setLoss} width={2} /> {words.loss}{' '}
        <Field label={words.safetyLevelInPercent} value={sure} set={setSure} width={2} /> {words.sure}
      </p>
      <Answer of={a}>
        <p className="pad-result">
          {words.start} {a.data?.start}
        </p>
        <small>{a.data?.text}</small>
        <Take what="good" taken={a.data && { good: Math.round(number(good)), loss: number(loss) / 100 }} />
      </Answer>
    </>
  )
}

function Shell() {
  const kitchen = useKitchen()
  const [across, setAcross] = useState(written(starting.ball))
  const [by, setBy] = useState<'wall' | 'mass'>('wall')
  const [value, setValue] = useState(written(starting.wall))
  const a = useAnswer(['shell', across, by, value], () =>
    ask(api.POST('/api/v1/calculators/shell', { body: { across, [by]: value } })),
  )
  return (
    <>
      <p>
        {words.aBall} <Field label={words.sizeAcross} value={across} set={setAcross} width={6} /> {words.acrossWithA}{' '}
        <Choice
          label={words.given}
          value={by}
          options={[
            { value: 'wall', label: words.wallOf },
            { value: 'mass', label: words.weightOf },
          ]}
          set={(chosen) => {
            setBy(chosen as typeof by)
            setValue(written(chosen === 'wall' ? starting.wall : starting.shell))
          }}
        />{' '}
        <Field label={by === 'wall' ? words.wall : words.weight} value={value} set={setValue} width={6} />
      </p>
      <Answer of={a}>
        <p className="pad-result">{a.data && kitchen.amount(by === 'wall' ? a.data.mass : a.data.wall)}</p>
        <small>{a.data?.text}</small>
        <Take
          what="shell"
          taken={a.data && { shell: { across: quantity(a.data.across), wall: quantity(a.data.wall) } }}
        />
      </Answer>
    </>
  )
}

function Sheet() {
  const kitchen = useKitchen()
  const [s, setS] = useState({ length: '13 in', width: '9.5 in', depth: '1/8 in', toLength: '18 in', toWidth: '13 in' })
  const f = (key: keyof typeof s, label: string) => (
    <Field label={label} value={s[key]} set={(v) => setS({ ...s, [key]: v })} width={5} />
  )
  const a = useAnswer(['sheet', s], () =>
    ask(
      api.POST('/api/v1/calculators/sheet', {
        body: { length: s.length, width: s.width, depth: s.depth, to: { length: s.toLength, width: s.toWidth } },
      }),
    ),
  )
  return (
    <>
      <p>
        {words.aSheetOf} {f('length', words.length)} {words.by} {f('width', words.width)}, {f('depth', words.depth)}{' '}
        {words.deepAndAnotherOf} {f('toLength', words.lengthOfTheOther)} {words.by}{' '}
        {f('toWidth', words.widthOfTheOther)}
      </p>
      <Answer of={a}>
        <p className="pad-result">
          {a.data && kitchen.amount(a.data.mass)}, × {a.data?.factor?.toFixed(2)}
        </p>
        <small>{a.data?.text}</small>
        <Take
          what="sheet"
          taken={
            a.data && {
              sheet: { length: quantity(a.data.length), width: quantity(a.data.width), depth: quantity(a.data.depth) },
            }
          }
        />
      </Answer>
    </>
  )
}

function Ganache() {
  const [parts, setParts] = useState([
    { name: 'chocolate', grams: '500' },
    { name: 'cream', grams: '240' },
    { name: 'liqueur', grams: '140' },
  ])
  const [total, setTotal] = useState('440 g')
  const [piece, setPiece] = useState('11 g')
  const body: Schemas['ScratchMixture'] = {
    parts: parts.map((p) => ({ name: p.name, mass: { amount: number(p.grams) || 0, unit: 'g' } })),
    total,
    piece,
  }
  const a = useAnswer(['ganache', body], () => ask(api.POST('/api/v1/calculators/ganache', { body })))
  const set = (i: number, change: Partial<(typeof parts)[number]>) =>
    setParts(parts.map((p, j) => (j === i ? { ...p, ...change } : p)))
  return (
    <>
      {parts.map((p, i) => (
        <p key={i}>
          <Field label={words.gramsOfPart(i + 1)} value={p.grams} set={(grams) => set(i, { grams })} width={4} /> g{' '}
          <Field label={words.nameOfPart(i + 1)} value={p.name} set={(name) => set(i, { name })} />
        </p>
      ))}
      <p>
        {words.for2} <Field label={words.inAll} value={total} set={setTotal} width={6} /> {words.inPiecesOf}{' '}
        <Field label={words.aPiece} value={piece} set={setPiece} width={5} />
      </p>
      <Answer of={a}>
        <ul className="pad-units">
          {a.data?.parts.map((p) => (
            <li key={p.name}>
              <b>{Math.round(p.mass.amount)} g</b> {p.name}
            </li>
          ))}
        </ul>
        <small>{a.data?.text}</small>
        <Take what="centre" taken={a.data?.piece && { centre: quantity(a.data.piece) }} />
      </Answer>
    </>
  )
}

function Bowl() {
  const [b, setB] = useState({
    mass: '500 g',
    from: '32',
    until: '31',
    coat: '5 g',
    piece: '12 g',
    at: '-18',
    seconds: '3',
  })
  const f = (key: keyof typeof b, label: string, width = 4) => (
    <Field label={label} value={b[key]} set={(v) => setB({ ...b, [key]: v })} width={width} />
  )
  const a = useAnswer(['bowl', b], () =>
    ask(
      api.POST('/api/v1/calculators/bowl', {
        body: {
          mass: b.mass,
          coat: b.coat,
          piece: b.piece,
          from: number(b.from),
          until: number(b.until),
          at: number(b.at),
          seconds: number(b.seconds),
        },
      }),
    ),
  )
  return (
    <>
      <p>
        {words.aBowlOf} {f('mass', words.chocolateInTheBowl, 6)} {words.at} {f('from', words.bowlAtInC, 3)}{' '}
        {words.cIsTooThickAt} {f('until', words.tooThickAtInC, 3)} {words.cCentresOf}{' '}
        {f('piece', words.centreWeight, 5)} {words.at} {f('at', words.centresAtInC, 3)} {words.cCarry}{' '}
        {f('coat', words.coatOnEach, 4)} {words.awayEach} {f('seconds', words.secondsInTheBowl, 2)} {words.sInTheBowl}
      </p>
      <Answer of={a}>
        <p className="pad-result">
          {a.data?.pieces} {a.data?.cooled ? words.beforeReWarming : words.untilItIsEmpty}
        </p>
        <small>{a.data?.text}</small>
        <Take what="pool" taken={a.data && { pool: quantity(a.data.bowl) }} />
      </Answer>
    </>
  )
}

const quantity = (shown: Schemas['MeasureShown']): Schemas['MeasureQuantity'] => ({
  amount: Number(shown.amount.toFixed(3)),
  unit: shown.unit,
})

function Seed() {
  const kitchen = useKitchen()
  const [colour, setColour] = useState<'dark' | 'milk' | 'white'>('dark')
  const [total, setTotal] = useState('600 g')
  const [melt, setMelt] = useState('46')
  const [room, setRoom] = useState('21')
  const a = useAnswer(['seed', colour, total, melt, room], () =>
    ask(api.POST('/api/v1/calculators/seed', { body: { colour, total, melt: number(melt), room: number(room) } })),
  )
  return (
    <>
      <p>
        <Field label={words.chocolateInAll} value={total} set={setTotal} width={6} /> {words.of}{' '}
        <Choice
          label={words.chocolate}
          value={colour}
          options={[
            { value: 'dark', label: 'dark' },
            { value: 'milk', label: 'milk' },
            { value: 'white', label: 'white' },
          ]}
          set={(chosen) => setColour(chosen as typeof colour)}
        />
        {words.meltedTo} <Field label={words.meltedToInC} value={melt} set={setMelt} width={3} /> {words.cSeedAt}{' '}
        <Field label={words.seedAtInC} value={room} set={setRoom} width={3} /> °C
      </p>
      <Answer of={a}>
        <p className="pad-result">
          {a.data && kitchen.amount(a.data.seed)} {words.ofSeed}
        </p>
        <small>{a.data?.text}</small>
      </Answer>
    </>
  )
}

function Cooling() {
  const [c, setC] = useState({ colour: 'dark', room: '21', first: '46', minutes: '6', second: '40' })
  const f = (key: keyof typeof c, label: string, width = 3) => (
    <Field label={label} value={c[key]} set={(v) => setC({ ...c, [key]: v })} width={width} />
  )
  const a = useAnswer(['cooling', c], () =>
    ask(
      api.POST('/api/v1/calculators/cooling', {
        body: {
          colour: c.colour as 'dark',
          room: number(c.room),
          readings: [
            { minute: 0, at: number(c.first) },
            { minute: number(c.minutes), at: number(c.second) },
          ],
        },
      }),
    ),
  )
  return (
    <>
      <p>
        <Choice
          label={words.chocolate}
          value={c.colour}
          options={[
            { value: 'dark', label: words.dark },
            { value: 'milk', label: words.milk },
            { value: 'white', label: words.white },
          ]}
          set={(chosen) => setC({ ...c, colour: chosen })}
        />{' '}
        {words.at} {f('first', words.firstReadingInC)} {words.cIsAt} {f('second', words.secondReadingInC)}{' '}
        {words.cAfter} {f('minutes', words.minutesBetween, 2)} {words.minutesInARoomOf} {f('room', words.roomInC)} °C
      </p>
      <Answer of={a}>
        <p className="pad-result">{a.data?.left === undefined ? words.notByItself : words.readyInMin(a.data.left)}</p>
        <small>{a.data?.text}</small>
      </Answer>
    </>
  )
}

function Altitude() {
  const [by, setBy] = useState<'metres' | 'boiling'>('metres')
  const [value, setValue] = useState('1609')
  const [target, setTarget] = useState('112')
  const a = useAnswer(['altitude', by, value, target], () =>
    ask(api.POST('/api/v1/calculators/altitude', { body: { [by]: number(value), target: number(target) } })),
  )
  return (
    <>
      <p>
        <Choice
          label={words.knownBy}
          value={by}
          options={[
            { value: 'metres', label: words.theKitchenLiesAt },
            { value: 'boiling', label: words.myThermometerInBoilingWater },
          ]}
          set={(chosen) => {
            setBy(chosen as typeof by)
            setValue(chosen === 'metres' ? '1609' : '94.6')
          }}
        />{' '}
        <Field label={by === 'metres' ? words.metres : words.readingInC} value={value} set={setValue} width={4} />{' '}
        {by === 'metres' ? 'm' : '°C'}
        {words.theRecipeSays} <Field label={words.targetInC} value={target} set={setTarget} width={4} /> °C
      </p>
      <Answer of={a}>
        <p className="pad-result">{a.data?.target.toFixed(1)} °C</p>
        <small>{a.data?.text}</small>
        <p className="care">{a.data?.caution}</p>
      </Answer>
    </>
  )
}

function Recipe() {
  const [text, setText] = useState(words.recipeExample)
  const a = useAnswer(['recipe', text], () => ask(api.POST('/api/v1/calculators/recipe', { body: { text } })))
  return (
    <>
      <Input.TextArea
        className="pad-text"
        aria-label={words.linesOfARecipe}
        rows={5}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Answer of={a}>
        <ul className="pad-lines">
          {a.data?.recipes[0]?.lines.map((l, i) => (
            <li key={i}>
              {l.amount && (
                <b>
                  {Number(l.amount.amount.toPrecision(4))}
                  {l.upto ? words.to(l.upto) : ''} {l.measure && !l.packs ? l.measure : l.amount.unit}
                </b>
              )}{' '}
              {l.ingredient} {l.note && <i>{l.note}</i>}
              {l.doubt && (
                <small className="trouble">
                  <Sign kind="caution" size={13} /> {l.doubt}
                </small>
              )}
            </li>
          ))}
        </ul>
        <small>{a.data?.text}</small>
      </Answer>
    </>
  )
}

const pages = { Convert, Recipe, Extras, Shell, Sheet, Ganache, Seed, Cooling, Bowl, Altitude }
type Page = keyof typeof pages

/** The scratch pad: small calculations over any place. The key = opens and closes it. */
export default function ScratchPad({ close }: { close: () => void }) {
  const [page, setPage] = useState<Page>(() => (localStorage.getItem('zestytin.pad') as Page) ?? words.convert)
  const pad = useRef<HTMLElement>(null)
  useEffect(() => pad.current?.focus(), [])
  const Now = pages[page] ?? Convert
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- Esc from any field of it closes it
    <aside
      ref={pad}
      className="pad"
      aria-label={words.scratchPad}
      tabIndex={-1}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        close()
      }}
    >
      <header>
        <h2>{words.scratchPad}</h2>
        <Button type="link" className="link" onClick={close} aria-label={words.closeTheScratchPad}>
          {words.close} <kbd>=</kbd>
        </Button>
      </header>
      <nav aria-label={words.calculations}>
        {(Object.keys(pages) as Page[]).map((name) => (
          <Button
            key={name}
            className="pill"
            aria-pressed={name === page}
            onClick={() => {
              setPage(name)
              localStorage.setItem('zestytin.pad', name)
            }}
          >
            {name.toLowerCase()}
          </Button>
        ))}
      </nav>
      <Now />
      <p className="pad-wrong">
        <Link to="/bench/wrong">{words.wrong}</Link>
      </p>
    </aside>
  )
}
