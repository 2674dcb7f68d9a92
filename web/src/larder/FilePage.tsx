import { useQueryClient } from '@tanstack/react-query'
import { Button, Select, Upload } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Link } from '../shell/Go'
import './larder.css'
import { words } from './words'

type Head = Schemas['LarderHead']
type Columns = Schemas['LarderColumns']
type Result = NonNullable<Schemas['LarderImportProgress']['result']>

const fields: { key: Exclude<keyof Columns, 'dates'>; label: string; must?: boolean }[] = [
  { key: 'name', label: words.whatItIs, must: true },
  { key: 'paid', label: words.priceForAllPacks, must: true },
  { key: 'packs', label: words.howManyPacks },
  { key: 'size', label: words.sizeOfAPack },
  { key: 'unit', label: words.unitOfTheSize },
  { key: 'shop', label: words.shop2 },
  { key: 'day', label: words.day },
  { key: 'bestBefore', label: words.bestBefore2 },
]

/**
 * Receipts from a CSV file: the person says which column is which; bad rows are listed, and nothing is booked before
 * they say so.
 */
export default function FilePage() {
  const queries = useQueryClient()
  const [file, setFile] = useState<File>()
  const [head, setHead] = useState<Head>()
  const [columns, setColumns] = useState<Columns>()
  const [refused, setRefused] = useState<string>()
  const [progress, setProgress] = useState<number>()
  const [result, setResult] = useState<Result>()
  const stop = useRef<AbortController>(undefined)

  async function choose(chosen: File) {
    setFile(chosen)
    setResult(undefined)
    try {
      setRefused(undefined)
      const h = await ask(
        api.POST('/api/v1/receipts.csv/columns', {
          body: chosen as unknown as string,
          bodySerializer: (b: unknown) => b as BodyInit,
          headers: { 'Content-Type': 'text/csv' },
        }),
      )
      setHead(h)
      setColumns(h.guess)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setHead(undefined)
      setRefused(error.message)
    }
  }
  async function run(keep: 'none' | 'all' | 'good') {
    if (!file || !columns) return
    setRefused(undefined)
    setProgress(0)
    stop.current = new AbortController()
    const { bestBefore, ...rest } = columns
    const query = new URLSearchParams({
      ...Object.fromEntries(Object.entries(rest).map(([k, v]) => [k, String(v)])),
      until: String(bestBefore),
      keep,
    })
    try {
      const answer = await fetch(`/api/v1/receipts.csv?${query.toString()}`, {
        method: 'POST',
        body: file,
        headers: { 'Content-Type': 'text/csv' },
        signal: stop.current.signal,
      })
      if (!answer.ok || !answer.body) {
        setRefused(((await answer.json()) as { detail?: string }).detail ?? words.theFileCouldNotBe)
        return
      }
      for await (const step of steps(answer.body)) {
        setProgress(step.of > 0 ? step.row / step.of : 1)
        if (step.says) setRefused(step.says)
        if (step.result) {
          setResult(step.result)
          if (step.result.booked > 0) await askAnew(queries, ['larder'])
        }
      }
    } catch (error) {
      if (!(error instanceof DOMException)) throw error
      setRefused(words.stoppedNothingWasAdded)
    } finally {
      setProgress(undefined)
    }
  }
  async function means(name: string, id: string) {
    await ask(api.PUT('/api/v1/ingredient-names', { body: { written: name, ingredient: id } }))
    await run('none')
  }
  return (
    <section className="wide">
      <header className="work-head">
        <h1>{words.receiptsFromAFile}</h1>
        <p className="soft">{words.aCsvFileWithOne}</p>
        <Upload
          accept=".csv,text/csv"
          showUploadList={false}
          beforeUpload={(f) => {
            void choose(f)
            return false
          }}
        >
          <Button>{file ? words.anotherFile : words.chooseAFile}</Button>
        </Upload>
        <Link to="/larder">{words.backToLarder}</Link>
      </header>
      {refused && (
        <p className="fault" role="alert">
          {refused}
        </p>
      )}
      {head && columns && (
        <>
          <div className="file-columns">
            {fields.map((f) => (
              <label key={f.key}>
                <span>{f.label}</span>
                <Select
                  aria-label={f.label}
                  value={columns[f.key]}
                  popupMatchSelectWidth={false}
                  options={[
                    { value: -1, label: f.must ? words.chooseAColumn : words.noColumn },
                    ...head.columns.map((c, value) => ({ value, label: c || words.column(value + 1) })),
                  ]}
                  onChange={(column) => {
                    setColumns({ ...columns, [f.key]: column })
                    setResult(undefined)
                  }}
                />
              </label>
            ))}
            <label>
              <span>{words.dateFormat}</span>
              <Select
                aria-label={words.dateFormat}
                value={columns.dates}
                popupMatchSelectWidth={false}
                options={[
                  { value: 'ymd', label: words.yearMonthDay },
                  { value: 'dmy', label: words.dayMonthYear },
                  { value: 'mdy', label: words.monthDayYear },
                ]}
                onChange={(dates) => setColumns({ ...columns, dates })}
              />
            </label>
          </div>
          <div className="file-sample" tabIndex={0} role="region" aria-label={words.theFirstRows}>
            <table>
              <thead>
                <tr>
                  {head.columns.map((c, i) => (
                    <th key={i}>{c}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {head.rows.map((r, i) => (
                  <tr key={i}>
                    {r.map((v, j) => (
                      <td key={j}>{v}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="shop-foot">
            <Button
              type="primary"
              disabled={columns.name < 0 || columns.paid < 0 || progress !== undefined}
              onClick={() => void run('none')}
            >
              {words.checkFile}
            </Button>
            {progress !== undefined && <Button onClick={() => stop.current?.abort()}>{words.stop}</Button>}
          </p>
          {progress !== undefined && (
            <div
              className="progress"
              role="progressbar"
              aria-label={words.readingTheFile}
              aria-valuenow={Math.round(progress * 100)}
            >
              <i style={{ width: `${progress * 100}%` }} />
            </div>
          )}
        </>
      )}
      {result && (
        <section aria-live="polite">
          {result.booked > 0 ? (
            <h2 className="fine">
              {result.booked} {words.rowsAddedToTheLarder}
            </h2>
          ) : (
            <h2>
              {result.good} {words.rowsAreGood} {result.bad} {words.cannot}
            </h2>
          )}
          {result.notes.map((n) => (
            <p key={n}>{n}</p>
          ))}
          {result.unknown.length > 0 && result.booked === 0 && (
            <ul className="file-columns">
              {result.unknown.slice(0, 24).map((u) => (
                <li key={u.name}>
                  <label>
                    <span>
                      {u.name}
                      {words.in} {u.rows} {u.rows === 1 ? words.row2 : words.rows}
                      {words.is}
                    </span>
                    <Select
                      aria-label={words.whatIs(u.name)}
                      placeholder={u.suggestions.length > 0 ? words.choose : words.noMatchAddItFirst}
                      style={{ width: '100%' }}
                      options={u.suggestions.map((s) => ({ value: s.id, label: s.name }))}
                      onChange={(id: string) => void means(u.name, id)}
                    />
                  </label>
                </li>
              ))}
            </ul>
          )}
          {result.rows.length > 0 && (
            <ol className="bad-rows">
              {result.rows.map((r) => (
                <li key={r.line}>
                  <b>
                    {words.row} {r.line}
                  </b>{' '}
                  <span className="soft">{r.text}</span> <span className="trouble">{r.says}</span>
                </li>
              ))}
              {result.bad > result.rows.length && (
                <li>
                  {words.and} {result.bad - result.rows.length} {words.more}
                </li>
              )}
            </ol>
          )}
          {result.booked === 0 && result.good > 0 && (
            <p className="shop-foot">
              {result.bad === 0 ? (
                <Button type="primary" onClick={() => void run('all')}>
                  {words.importAllRows}
                </Button>
              ) : (
                <Button onClick={() => void run('good')}>
                  {words.import} {result.good} {words.goodRows}
                </Button>
              )}
            </p>
          )}
        </section>
      )}
    </section>
  )
}

/** The steps of an import, as they arrive: a line of JSON each. */
async function* steps(body: ReadableStream<Uint8Array>): AsyncGenerator<Schemas['LarderImportProgress']> {
  const reader = body.getReader()
  const decoder = new TextDecoder()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    rest += decoder.decode(value, { stream: !done })
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) if (line) yield JSON.parse(line) as Schemas['LarderImportProgress']
    if (done) return
  }
}
