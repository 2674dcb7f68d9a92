import { useQuery } from '@tanstack/react-query'
import { Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { useKitchen } from '../shell/kitchen'
import { LabelPreview } from './LabelPreview'
import { asQuery, type Own, usePrinting } from './useLabelSheet'
import { words } from './words'

const measures = Object.keys(words.measures) as (keyof typeof words.measures)[]

/** The label of a line of an order to scale, and the PDF of it for a sheet or a roll. */
export function LabelPanel({ order }: { order: Schemas['OrdersOrder'] }) {
  const kitchen = useKitchen()
  const sheetName = (s: Schemas['OrdersLabelSheet']) =>
    [
      s.labels > 1 ? s.labels : undefined,
      `${kitchen.amount(s.sides[0]!)} × ${kitchen.amount(s.sides[1]!)}`,
      s.page || words.roll,
    ]
      .filter((x) => x !== undefined)
      .join(' · ')
  const { printing, change } = usePrinting()
  const [line, setLine] = useState(0)
  const [pieces, setPieces] = useState<number | null>(null)
  const sheets = useQuery({ queryKey: ['label-sheets'], queryFn: () => ask(api.GET('/api/v1/label-sheets', {})) })
  const query = { ...asQuery(printing), pieces: pieces ?? 0 }
  const labels = useQuery({
    queryKey: ['labels', order.id, order.revision, order.state, query],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}/labels', { params: { path: { id: order.id }, query } })),
    placeholderData: (before) => before,
    retry: false,
  })
  const of = labels.data?.labels[Math.min(line, (labels.data?.labels.length ?? 1) - 1)]
  const search = (more: Record<string, string | number>) =>
    new URLSearchParams(Object.entries({ ...query, ...more }).map(([k, v]) => [k, String(v)])).toString()
  return (
    <section className="pack-card" aria-label={words.label}>
      <p className="kicker">{words.label}</p>
      {(labels.data?.labels.length ?? 0) > 1 && (
        <Select
          aria-label={words.labelOf}
          value={of?.line}
          style={{ width: '100%' }}
          onChange={setLine}
          options={labels.data!.labels.map((l) => ({ value: l.line, label: l.name }))}
        />
      )}
      {labels.error && (
        <p className="fault" role="alert">
          {labels.error.message}
        </p>
      )}
      {!labels.error && of?.fitted && <LabelPreview name={of.name} fitted={of.fitted} />}
      {!labels.error && of?.fitted && <p className="soft">{words.smallest(kitchen.amount(of.letter!))}</p>}
      {!labels.error && of?.fault && (
        <p className="when trouble" role="alert">
          <Sign kind="trouble" size={14} /> {of.fault}
        </p>
      )}
      <div className="label-how">
        <label>
          <span>{words.sheet}</span>
          <Select
            aria-label={words.sheet}
            listHeight={420}
            value={sheets.data ? printing.sheet : undefined}
            loading={sheets.isPending}
            onChange={(sheet) => change({ sheet, start: 1, own: printing.own ?? blank(sheets.data?.sheets[0]) })}
            options={[
              ...(sheets.data?.sheets ?? []).map((s) => ({ value: s.id!, label: sheetName(s) })),
              { value: '', label: words.ownSheet },
            ]}
          />
        </label>
        {printing.sheet === '' && printing.own && (
          <div className="own-sheet">
            {measures.map((key) => (
              <label key={key}>
                <span>{words.measures[key]}</span>
                <InputNumber
                  aria-label={words.measures[key]}
                  size="small"
                  value={printing.own![key]}
                  min={0}
                  controls={false}
                  onChange={(n) => change({ own: { ...printing.own!, [key]: n ?? 0 } })}
                />
              </label>
            ))}
            <p className="follows">{words.inMillimetres}</p>
          </div>
        )}
        <label>
          <span>{words.pieces}</span>
          <InputNumber
            aria-label={words.pieces}
            value={pieces}
            min={1}
            max={10000}
            precision={0}
            placeholder={of ? String(of.pieces) : ''}
            onChange={setPieces}
          />
        </label>
        <label>
          <span>{words.startAt}</span>
          <InputNumber
            aria-label={words.startAt}
            value={printing.start}
            min={1}
            max={2500}
            precision={0}
            onChange={(n) => change({ start: n ?? 1 })}
          />
        </label>
        <label>
          <span>{words.code}</span>
          <Select
            aria-label={words.code}
            value={printing.code}
            options={Object.entries(words.codes).map(([value, label]) => ({ value, label }))}
            onChange={(code) => change({ code: code as typeof printing.code })}
          />
        </label>
        {(printing.code === 'qr' || printing.code === 'ean') && (
          <label>
            <span>{words.codeSays[printing.code]}</span>
            <Input
              aria-label={words.codeSays[printing.code]}
              value={printing.says}
              maxLength={300}
              onChange={(e) => change({ says: e.target.value })}
            />
          </label>
        )}
        <label className="all">
          <span>{words.freeLine}</span>
          <Input
            aria-label={words.freeLine}
            value={printing.free}
            maxLength={300}
            onChange={(e) => change({ free: e.target.value })}
          />
        </label>
      </div>
      {of?.care.map((c) => (
        <p key={c} className="care">
          {c}
        </p>
      ))}
      <p className="pack-do">
        {of?.fitted && of.until && of.labels > 0 && (
          <a
            className="button-link primary"
            href={`/api/v1/orders/${order.id}/labels.pdf?${search({ line: of.line, start: printing.start })}`}
            download={`labels-${order.number}.pdf`}
          >
            {words.print(of.labels)}
          </a>
        )}
        {(labels.data?.labels.length ?? 0) > 1 && labels.data!.labels.every((l) => l.fitted && l.until) && (
          <a
            href={`/api/v1/orders/${order.id}/labels.pdf?${search({ line: -1, pieces: 0, start: printing.start })}`}
            download={`labels-${order.number}.pdf`}
          >
            {words.printAll(labels.data!.labels.reduce((n, l) => n + l.labels, 0))}
          </a>
        )}
        <a
          href={`/api/v1/label-sheets/calibration.pdf?${new URLSearchParams(asQuery({ ...printing, free: '', code: '' })).toString()}`}
          download
        >
          {words.calibrate}
        </a>
      </p>
    </section>
  )
}

function blank(of?: Schemas['OrdersLabelSheet']): Own | undefined {
  if (!of) return
  const { width, height, columns, rows, left, top, long, high, pitchX, pitchY } = of
  return { width, height, columns, rows, left, top, long, high, pitchX, pitchY }
}
