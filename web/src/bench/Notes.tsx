import type { Step } from './StepRow'
import { words } from './words'
import './bench.css'

/** What is noted of a step, of its treat and of the orders that it is for, and what to look for. */
export function Notes({ s }: { s: Step }) {
  const lines = s.for.filter((o) => o.note)
  if (!s.look && !s.note && !s.treatNote && lines.length === 0) return null
  return (
    <span className="notes">
      {s.look && (
        <span className="step-look">
          {words.lookFor} {s.look}
        </span>
      )}
      {s.note && <span className="step-note">{s.note}</span>}
      {s.treatNote && <span className="step-note">{s.treatNote}</span>}
      {lines.map((o) => (
        <span key={`${o.order} ${o.note}`} className="step-note">
          <b>{o.customer}:</b> {o.note}
        </span>
      ))}
    </span>
  )
}
