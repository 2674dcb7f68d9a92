import { useQuery } from '@tanstack/react-query'
import { Select } from 'antd'
import { memo, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { useKitchen } from '../shell/kitchen'
import type { Treat } from './TreatPage'
import { words } from './words'

/** The versions of a treat, and what changed in each. */
export const Versions = memo(function Versions({ treat }: { treat: Treat }) {
  const kitchen = useKitchen()
  const [open, setOpen] = useState(false)
  const versions = useQuery({
    queryKey: ['versions', treat.id, treat.version],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/versions', { params: { path: { id: treat.id } } })),
    enabled: open,
  })
  return (
    <details className="steps versions" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words.whatChangedVersionByVersion}</summary>
      {(versions.data?.versions.length ?? 0) > 2 && <Compare treat={treat} />}
      <ol>
        {versions.data?.versions.map((v) => (
          <li key={v.version}>
            <b>
              {words.version3} {v.version}
            </b>{' '}
            <span className="soft">
              {kitchen.moment(v.at)} {words.by} {v.by}
              {words.in2} {v.orders} {v.orders === 1 ? words.order : words.orders}
            </span>
            <Changes list={v.changes ?? []} none={v.version === 1 ? words.firstVersion : words.noVisibleChange} />
          </li>
        ))}
      </ol>
    </details>
  )
})

/** What differs between a copy and what it was copied from. */
export const Differences = memo(function Differences({ treat }: { treat: Treat }) {
  const [open, setOpen] = useState(true)
  const of = treat.copyOf
  const differences = useQuery({
    queryKey: ['changes', treat.id, 'copy', treat.version],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/differences', { params: { path: { id: treat.id } } })),
    enabled: open && Boolean(of),
  })
  if (!of) return null
  return (
    <details className="steps versions" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words.likeBut(of.name)}</summary>
      <p className="soft">
        <Link to={`/treats/${of.id}`}>{of.name}</Link>, {words.versionNumber(of.version)}
      </p>
      {differences.data && <Changes list={differences.data.changes} none={words.noDifferenceSoFar} />}
    </details>
  )
})

const Changes = ({ list, none }: { list: Schemas['FamilyChange'][]; none: string }) => (
  <ul>
    {list.map((c) => (
      <li key={c.what}>
        {c.what}:{' '}
        {c.before ? (
          <>
            <del>{c.before}</del>{' '}
            {c.after ? (
              <>
                → <ins>{c.after}</ins>
              </>
            ) : (
              words.removed
            )}
          </>
        ) : (
          <>
            {words.new} <ins>{c.after}</ins>
          </>
        )}
      </li>
    ))}
    {list.length === 0 && <li className="soft">{none}</li>}
  </ul>
)

/** Any two versions side by side. */
function Compare({ treat }: { treat: Treat }) {
  const [from, setFrom] = useState(1)
  const [to, setTo] = useState(treat.version)
  const changes = useQuery({
    queryKey: ['changes', treat.id, from, to],
    queryFn: () =>
      ask(api.GET('/api/v1/treats/{id}/changes', { params: { path: { id: treat.id }, query: { from, to } } })),
  })
  const options = Array.from({ length: treat.version }, (_, i) => ({ value: i + 1, label: words.versionNumber(i + 1) }))
  return (
    <div className="compare">
      {words.from}{' '}
      <Select
        size="small"
        aria-label={words.fromVersion}
        value={from}
        onChange={setFrom}
        options={options}
        style={{ width: 110 }}
      />{' '}
      {words.to}{' '}
      <Select
        size="small"
        aria-label={words.toVersion}
        value={to}
        onChange={setTo}
        options={options}
        style={{ width: 110 }}
      />
      <Changes list={changes.data?.changes ?? []} none={words.noDifference} />
    </div>
  )
}
