import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, InputNumber, Select } from 'antd'
import { useDeferredValue, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { useFound, useKeep } from '../device/drafts'
import { Restored } from '../device/Restored'
import { Blank } from '../kit/Blank'
import { Told } from '../kit/Told'
import { AmountInput } from '../kit/AmountInput'
import { Day } from '../kit/Day'
import { useSay } from '../kit/say'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { IngredientForm } from './IngredientForm'
import type { Item } from './Jar'
import './larder.css'
import { words } from './words'

type Read = Schemas['LarderSlipLine']
/** What a person settled of a line that was read; kept by what was written. */
type Settled = Partial<{
  item: string
  packs: number
  size: Schemas['MeasureQuantity']
  paid: string
  bestBefore: string
  out: boolean
}>

interface KeptSlip {
  text: string
  shop: string
  day: string
  settled: Record<string, Settled>
  key: string
}

const example = words.receiptExample

/** A till slip, typed as it reads; its lines become lots. */
export default function ReceiptPage() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const found = useFound<KeptSlip>('receipt')
  const [text, setText] = useState(found.value?.text ?? '')
  const [shop, setShop] = useState(found.value?.shop ?? '')
  const [day, setDay] = useState(found.value?.day ?? kitchen.today())
  const [settled, setSettled] = useState<Record<string, Settled>>(found.value?.settled ?? {})
  const [refused, setRefused] = useState<Refused>()
  const [key] = useState(() => found.value?.key ?? newKey())
  const dirty = text.trim() !== '' || shop.trim() !== ''
  useKeep(
    'receipt',
    { title: shop.trim() ? words.receipt(shop.trim()) : 'A receipt', to: '/larder/receipt' },
    { text, shop, day, settled, key } satisfies KeptSlip,
    dirty,
    found,
  )
  const typed = useDeferredValue(text)
  const stock = useQuery({ queryKey: ['stock'], queryFn: () => ask(api.GET('/api/v1/stock', {})) })
  const read = useQuery({
    queryKey: ['slip', typed],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/slip', { body: { text: typed }, signal })),
    enabled: typed.trim() !== '',
    placeholderData: keepPreviousData,
  })
  const lines = text.trim() === '' ? [] : (read.data?.lines ?? []).map((line) => merge(line, settled[line.original]))
  const used = lines.filter((l) => !l.out)
  const ready = used.length > 0 && used.every((l) => l.item && l.size && l.paid && !l.doubt)
  const paid = used.map((l) => l.paid ?? '')
  const sum = useQuery({
    queryKey: ['receipt-sum', paid],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/receipt', { body: { paid }, signal })),
    enabled: paid.length > 0,
    placeholderData: keepPreviousData,
  })
  const settle = (line: Merged, change: Settled) =>
    setSettled((s) => ({ ...s, [line.original]: { ...s[line.original], ...change } }))
  async function book() {
    try {
      setRefused(undefined)
      const { notes } = await ask(
        api.POST('/api/v1/receipts', {
          params: { header: { 'Idempotency-Key': key } },
          body: {
            shop,
            day,
            lines: used.map((l) => ({
              item: l.item!,
              packs: l.packs,
              size: l.size!,
              paid: l.paid,
              bestBefore: l.bestBefore,
              written: l.name,
            })),
          },
        }),
      )
      found.over()
      await askAnew(queries, ['larder'])
      say.done(
        'larder',
        [words.inTheLarder(used.length, used.length === 1 ? words.lotIs : words.lotsAre), ...notes].join(' '),
      )
      void navigate('/larder')
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <section className="wide">
      <header className="work-head">
        <h1>{words.aReceipt}</h1>
        <p className="soft">{words.typeEachLineAsPrinted}</p>
        <Link to="/larder/file">{words.useAFileInstead}</Link>
      </header>
      <Restored
        found={Boolean(found.value) && dirty}
        forget={() => {
          found.forget()
          setText('')
          setShop('')
          setDay(kitchen.today())
          setSettled({})
        }}
      />
      <div className="receipt-columns">
        <div className="slip">
          <p className="sentence">
            <Told
              text={words.boughtAt}
              parts={{
                shop: (
                  <Blank
                    label={words.shop2}
                    value={shop}
                    placeholder={words.shop}
                    onChange={(e) => setShop(e.target.value)}
                  />
                ),
                day: <Day label={words.dayOfThePurchase} max={kitchen.today()} value={day} onChange={setDay} />,
              }}
            />
          </p>
          {refused?.at('day') && (
            <p className="fault" role="alert">
              {refused.at('day')}
            </p>
          )}
          <Input.TextArea
            aria-label={words.receiptLines}
            value={text}
            placeholder={example}
            onChange={(e) => setText(e.target.value)}
            autoFocus
          />
        </div>
        <div>
          {lines.length === 0 && <p className="empty">{words.whatWeReadAppearsHere}</p>}
          <ul className="slip-lines">
            {lines.map((l, n) => (
              <SlipRow
                key={`${n}${l.original}`}
                line={l}
                n={n}
                items={stock.data?.items ?? []}
                settle={(c) => settle(l, c)}
                fault={refused?.below(`lines[${used.indexOf(l)}]`)}
              />
            ))}
          </ul>
          {lines.length > 0 && (
            <p className="receipt-foot">
              <b>{sum.data && kitchen.money(sum.data.sum)}</b>
              <Button type="primary" size="large" disabled={!ready} onClick={() => void book()}>
                {words.addToLarder}
              </Button>
              {!ready && <span className="soft">{words.checkTheMarkedLinesFirst}</span>}
            </p>
          )}
          {refused && !refused.problem.errors?.length && (
            <p className="fault" role="alert">
              {refused.message}
            </p>
          )}
        </div>
      </div>
    </section>
  )
}

interface Merged extends Omit<Settled, 'packs' | 'paid'> {
  original: string
  name: string
  packs: number
  paid: string
  doubt?: string
  guessed: boolean
  read: Read
}

/** A line as it was read, with what a person settled laid over it. A doubt is settled with what it asks about. */
function merge(read: Read, s: Settled = {}): Merged {
  const cleared = s.paid !== undefined || s.size !== undefined || s.packs !== undefined
  return {
    original: read.original,
    name: read.name,
    read,
    guessed: Boolean(read.guessed) && !s.size,
    item: s.item ?? read.item,
    packs: s.packs ?? read.packs,
    size: s.size ?? read.size,
    paid: s.paid ?? read.paid,
    bestBefore: s.bestBefore,
    out: s.out,
    doubt: cleared ? undefined : read.doubt,
  }
}

function SlipRow({
  line,
  n,
  items,
  settle,
  fault,
}: {
  line: Merged
  n: number
  items: Item[]
  settle: (c: Settled) => void
  fault?: string
}) {
  const [making, setMaking] = useState(false)
  const suggested = line.read.suggestions.filter((s) => s.id !== line.item)
  const item = items.find((i) => i.id === line.item)
  const open = !line.out && (!line.item || !line.size || !line.paid || line.doubt)
  if (line.out)
    return (
      <li className="out">
        <s className="written">{line.original}</s>
        <Button type="link" className="link" onClick={() => settle({ out: false })}>
          {words.include}
        </Button>
      </li>
    )
  return (
    <li className={open ? 'open' : 'settled'}>
      <Select
        showSearch={{ optionFilterProp: 'label' }}
        aria-label={words.whatLineIs(n + 1)}
        value={line.item}
        placeholder={words.chooseWhatItIs}
        onChange={(id) => settle({ item: id })}
        options={items.map((i) => ({ value: i.id, label: i.name }))}
      />
      <InputNumber
        aria-label={words.packsOfLine(n + 1)}
        value={line.packs}
        min={1}
        controls={false}
        onChange={(p) => settle({ packs: p ?? 1 })}
        style={{ width: 56 }}
      />
      {line.size ? (
        <AmountInput
          label={words.sizeOfLine(n + 1)}
          value={line.size}
          width={114}
          of={item && !item.packaging ? item.id : undefined}
          onChange={(size) => settle({ size })}
        />
      ) : (
        <Button
          onClick={() =>
            settle({ size: item ? { amount: item.paidFor.amount, unit: item.unit } : { amount: 1, unit: 'kg' } })
          }
        >
          {words.howMuch}
        </Button>
      )}
      <Input
        aria-label={words.paidForLine(n + 1)}
        value={line.paid}
        inputMode="decimal"
        placeholder={words.paid}
        onChange={(e) => settle({ paid: e.target.value })}
      />
      <Day
        label={words.bestBeforeOfLine(n + 1)}
        empty={words.bestBefore}
        small
        value={line.bestBefore ?? ''}
        onChange={(day) => settle({ bestBefore: day || undefined })}
      />
      <Button type="text" aria-label={words.leaveOutLine(n + 1)} onClick={() => settle({ out: true })}>
        ×
      </Button>
      <span className="written">
        {line.original}
        {line.guessed && words.asLargeAsTheLast}
        {!line.item &&
          suggested.map((s) => (
            <Button type="link" key={s.id} className="link" onClick={() => settle({ item: s.id })}>
              {' '}
              {s.name}?
            </Button>
          ))}
        {!line.item && (
          <Button type="link" size="small" onClick={() => setMaking(true)}>
            {words.makeIngredient}
          </Button>
        )}
        {making && (
          <IngredientForm
            name={line.name}
            close={(made) => {
              setMaking(false)
              if (made) settle({ item: made.id })
            }}
          />
        )}
      </span>
      {(line.doubt ?? fault) && (
        <span className="fault" role="alert">
          {line.doubt ?? fault}
        </span>
      )}
    </li>
  )
}
