import { memo, useMemo } from 'react'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { Glyph } from '../kit/glyphs'
import { type Chocolate, lookOf } from '../kit/chocolate'
import { useSpotName } from '../plan/Space'
import { minutes } from '../shell/kitchen'
import type { Body, Pantry } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'
import { Ball, Cup } from './sections/bomb'
import { Cavity, cavityCaption, heart } from './sections/cavity'
import { Fruit, outline } from './sections/fruit'
import { circle, type Drawn, insides, type Look, useLengths } from './sections/parts'
import { Rod, Twist } from './sections/rod'
import { Bark, Pan } from './sections/sheet'
import { Truffle } from './sections/truffle'
import './treats.css'

type Card = Schemas['BatchCard']
/** How a chocolate of a treat is drawn: in the colour of its tint, where that is said. */
function lookOfCoating(c: Formula['coatings'][number] | undefined, pantry: Pantry): Look | undefined {
  const of = c && pantry.ingredients.get(c.ingredient)?.chocolate
  return of ? lookOf({ ...of, tint: c.tint?.colour ?? of.tint }) : undefined
}

/** The treat cut open, to scale: walls, fill, coat and layers are as thick as the numbers say. */
export const Section = memo(function Section({
  f,
  finishes,
  card,
  pantry,
}: {
  f: Body
  finishes?: Formula['finishes']
  card?: Card
  pantry: Pantry
}) {
  const length = useLengths()
  const look = (role: string) =>
    lookOfCoating(
      f.coatings.find((c) => c.role === role),
      pantry,
    )
  const other = f.coatings.filter((c) => c.role === 'shell')[1]
  const marble = lookOfCoating(other, pantry)
  const drawn: Drawn = {
    f,
    card,
    main: look('shell') ?? look('coat') ?? look('base') ?? lookOf(card?.look ?? { kind: 'real', colour: 'milk' }),
    marble: marble && { ...marble, share: other!.share ?? 0.5 },
    second: look('layer') ?? look('cap'),
    lines: look('drizzle'),
  }
  const cup = f.choices.shape === 'cup'
  const draws = traitsOf(f.family).drawn
  const centre = f.centre ? pantry.ingredients.get(f.centre.of) : undefined
  return (
    <figure className="section-drawing">
      <svg viewBox="0 0 300 300" role="img" aria-label={words.cutThroughTheTreatTo}>
        {draws === 'ball' && (cup ? <Cup {...drawn} /> : <Ball {...drawn} />)}
        {draws === 'fruit' && (
          <Fruit
            {...drawn}
            flesh={
              centre && (centre.density ?? 1) < 0.8 && !centre.measures?.some((m) => m.name === 'punnet')
                ? insides.dried
                : f.choices.form === 'slice'
                  ? insides.segment
                  : insides.flesh
            }
          />
        )}
        {draws === 'rod' && (f.choices.shape === 'twist' ? <Twist {...drawn} /> : <Rod {...drawn} />)}
        {draws === 'sphere' && <Truffle {...drawn} />}
        {draws === 'sheet' && <Bark {...drawn} />}
        {draws === 'pan' && <Pan {...drawn} />}
        {draws === 'cavity' && <Cavity {...drawn} />}
        {draws === '' && (
          <g style={{ color: drawn.main.fill }}>
            <Glyph family={f.family} size={220} x={40} y={30} />
          </g>
        )}
      </svg>
      <figcaption>{caption(length, f, card)}</figcaption>
      {(card?.designs ?? []).length > 0 && (
        <ul className="designs" aria-label={words.designs}>
          {card!.designs.map((d) => {
            const own = (finishes ?? []).find((x) => x.name === d.name)
            const of = (role: string) => own?.coatings?.find((c) => c.role === role)
            return (
              <li key={d.name}>
                <Thumb
                  shape={f.choices.shape === 'cup' ? 'cup' : (f.mould?.cavity?.shape ?? draws)}
                  form={f.choices.form}
                  look={lookOf(d.look)}
                  lines={lookOfCoating(of('drizzle'), pantry) ?? drawn.lines}
                  topped={(own?.portions ?? []).some((p) => p.where === 'on')}
                  filled={(own?.portions ?? []).some((p) => p.where === 'in') || Boolean(own?.centre)}
                />
                <small>
                  {d.good} {d.name}
                </small>
              </li>
            )
          })}
        </ul>
      )}
    </figure>
  )
})

/** A design of a set, small: in the shape of its family. */
function Thumb({
  shape,
  form,
  look,
  lines,
  topped,
  filled,
}: {
  shape: string
  form?: string
  look: Look
  lines?: Look
  topped: boolean
  filled: boolean
}) {
  const d =
    {
      ball: circle(20, 20, 15),
      sphere: circle(20, 20, 15),
      rod: 'M8 14a4 4 0 0 1 8 0V34H8zM18 8a4 4 0 0 1 8 0V34H18zM28 12a4 4 0 0 1 8 0V34H28z',
      cavity: 'M6 8h28v22q0 4-4 4H10q-4 0-4-4z',
      cup: 'M6 8h28L29 34H11z',
      loaf: 'M5 12h30L31 30H9z',
      bar: 'M4 14h32v14H4z',
      dome: 'M5 14h30A15 15 0 0 1 5 14z',
      heart: heart(20, 35, 30),
      cube: 'M8 8h24v24H8z',
    }[shape] ?? outline(form, 20, 20, 15)
  return (
    <svg viewBox="0 0 40 40" width="40" height="40" aria-hidden="true">
      <path d={d} fill={look.fill} stroke={look.edge} />
      {look.pattern && <path d={d} fill={look.pattern} />}
      {filled && <circle cx="20" cy="21" r="6.5" fill={insides.mix} stroke={look.edge} strokeWidth="0.8" />}
      {lines && (
        <path d="M9 16l20-3M10 22l20-3M14 28l13-2" stroke={lines.fill} strokeWidth="2.4" strokeLinecap="round" />
      )}
      {topped && (
        <path
          d="M12 18h.01M18 14h.01M24 17h.01M28 22h.01M15 24h.01M21 21h.01M20 29h.01M25 27h.01"
          stroke={insides.baked}
          strokeWidth="3.4"
          strokeLinecap="round"
        />
      )}
    </svg>
  )
}

function caption(length: (shown?: Schemas['MeasureShown']) => string, f: Body, card?: Card): string {
  if (!card) return '' // it is still asked for
  const s = card.sizes
  switch (traitsOf(f.family).drawn) {
    case 'ball':
      return words.acrossWall(length(s.drawn.mould), length(s.wall))
    case 'fruit':
      return s.centre ? words.ofFruitInACoat(length(s.centre), length(s.wall) || words.inChocolate) : ''
    case 'rod':
      return words.aCoatOf(length(s.wall))
    case 'sphere':
      return words.centreAcrossCoat(length(s.across), length(s.wall))
    case 'sheet':
      return words.chocolateDeepDrawnTenTimes(length(s.drawn.depth))
    case 'pan':
      return words.panDeep(f.sheet?.rows ?? 1, f.sheet?.columns ?? 1, length(s.drawn.depth))
    case '':
      return words.aboutAPiece(length(card.piece), traitsOf(f.family).one)
    default:
      return cavityCaption(length(s.wall), Boolean(f.mould?.cavity), (f.mould?.shell ?? 1) >= 1)
  }
}

/** The steps in a row: hands-on as boxes, waiting as a thin line. */
export const Ribbon = memo(function Ribbon({ card }: { card: Card }) {
  const spot = useSpotName()
  const steps = useMemo(() => {
    // The rounds of one step are one box, and so are its chocolates.
    const list = new Map<
      string,
      { id: string; name: string; hands: number; wait: number; place?: string; pot?: Chocolate; rounds: number }
    >()
    for (const s of card.steps) {
      const id = s.id.replace(/-\d+(?=$|-[a-z]$)/, '').replace(/-[a-z]$/, '')
      const pot = card.pots.find((p) => s.pots?.some((u) => u.pot === p.key))?.chocolate
      const there = list.get(id)
      if (there) Object.assign(there, { hands: there.hands + s.hands, rounds: there.rounds + 1, wait: s.wait })
      else
        list.set(id, {
          id,
          name: s.name.split(/,|:/)[0]!,
          hands: s.hands,
          wait: s.wait,
          place: s.place,
          pot,
          rounds: 1,
        })
    }
    return [...list.values()]
  }, [card])
  return (
    <ol className="ribbon">
      {steps.map((s) => {
        const look = s.pot ? lookOf(s.pot) : undefined
        return (
          <li key={s.id} style={{ flexGrow: s.hands + 12, flexBasis: 64 }}>
            <span
              className="ribbon-hands"
              style={look && { background: look.fill, color: look.ink, borderColor: look.edge }}
            >
              {s.name}
              {s.rounds > 1 && words.times2(s.rounds)}
            </span>
            <small>
              {minutes(s.hands)}
              {s.wait > 0 && (
                <span className="wait">
                  {' '}
                  {words.then} {minutes(s.wait)}
                  {s.place && `, ${spot(s.place)}`}
                </span>
              )}
            </small>
          </li>
        )
      })}
    </ol>
  )
})
