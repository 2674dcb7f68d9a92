import type { ReactNode } from 'react'
import type { Motif } from '../api/families'
import './kit.css'

/** Our own drawings of the families, on a 24 px grid. */
const drawings: Record<Motif, ReactNode> = {
  bomb: (
    <>
      <circle cx="12" cy="12" r="8" />
      <path d="M4.2 12.6c2.6 1.3 4.9-.9 7.8 0s5.2 1.2 7.8 0" />
    </>
  ),
  fruit: (
    <>
      <path d="M12 20.5c-4.6-3-7-6.6-7-9.6 0-2.3 1.7-3.6 3.6-3.6 1.3 0 2.5.5 3.4 1.4.9-.9 2.1-1.4 3.4-1.4 1.9 0 3.6 1.3 3.6 3.6 0 3-2.4 6.6-7 9.6z" />
      <path d="M12 8.4V4.2M8.8 4.6 12 7l3.2-2.4" />
    </>
  ),
  pretzel: (
    <>
      <path d="M17.2 3.4a2.4 2.4 0 0 1 3.4 3.4L6.8 20.6a2.4 2.4 0 0 1-3.4-3.4z" />
      <path d="M13.4 7.2l3.4 3.4M10.6 10l3.4 3.4M7.8 12.8l3.4 3.4" strokeWidth="1.4" />
    </>
  ),
  truffle: (
    <>
      <path d="M12 4.2c4.6 0 7.6 3.6 7.6 8.2S16.4 20 12 20s-7.6-3-7.6-7.6S7.4 4.2 12 4.2z" />
      <path d="M8.8 9.4h.01M12.6 7.8h.01M15.6 11.2h.01M10.6 12.8h.01M14 15.6h.01M8.6 16h.01" strokeWidth="2.3" />
    </>
  ),
  fudge: (
    <>
      <path d="M3.8 9.2 12 5.2l8.2 4v6.6l-8.2 4-8.2-4z" />
      <path d="M3.8 9.2l8.2 4 8.2-4M12 13.2v6.6" />
    </>
  ),
  moulded: (
    <>
      <path d="M7.4 6.4h9.2L20 18.4H4z" />
      <path d="M9.2 10.2h5.6l1.5 4.6H7.7z" />
    </>
  ),
  cluster: (
    <>
      <path d="M3.6 18.6c-.6-2.6 1-4.2 2.8-4.4-.8-3 1.6-5 3.8-4.4.4-2.8 3.6-3.8 5.4-2 1.6 1.4 1.4 3.4.4 4.6 2.6-.2 4.6 2.4 4.2 6.2z" />
      <path d="M8.6 15.8l2.2-1.4M13.4 12l1.2-2M15.2 16.2l2-.6" />
    </>
  ),
  mix: (
    <>
      <path d="M3.4 11h17.2c0 5-3.6 8.4-8.6 8.4S3.4 16 3.4 11z" />
      <path d="M12.6 11 17.8 3.6" />
    </>
  ),
  bark: (
    <>
      <path d="M4.5 8.5 9 4.2l5.4 1.6 5.1 3.4-1 6.6-5.2 4.2-6-.9-3.2-4.6z" />
      <path d="M9 9.6h.01M14.2 10.4h.01M11.4 14.6h.01" strokeWidth="2.6" />
    </>
  ),
}

/** A glyph of a family, or of a mix; inside an svg give it x and y. */
export function Glyph({ family, size = 18, ...place }: { family: Motif; size?: number; x?: number; y?: number }) {
  return (
    <svg
      {...place}
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      {drawings[family]}
    </svg>
  )
}

/** Signs of state: each its own shape, never colour alone. */
export function Sign({ kind, size = 16 }: { kind: 'trouble' | 'caution' | 'fine'; size?: number }) {
  return (
    <svg
      className={`sign sign-${kind}`}
      width={size}
      height={size}
      viewBox="0 0 16 16"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.7"
      strokeLinecap="round"
      strokeLinejoin="round"
      role="img"
      aria-label={kind}
    >
      {kind === 'trouble' && <path d="M5.2 1.8h5.6l3.4 3.4v5.6l-3.4 3.4H5.2l-3.4-3.4V5.2zM8 4.6v4M8 11.2h.01" />}
      {kind === 'caution' && <path d="M8 2 14.6 13.6H1.4zM8 6.4v3.4M8 11.7h.01" />}
      {kind === 'fine' && <path d="M8 1.6a6.4 6.4 0 1 1 0 12.8A6.4 6.4 0 0 1 8 1.6zM5 8.2l2.2 2.2L11.2 6" />}
    </svg>
  )
}

/** Somebody is on the road. */
export const Car = (place: { x?: number; y?: number }) => (
  <svg {...place} width="15" height="12" viewBox="0 0 15 12" aria-hidden="true">
    <path d="M1 8.6V6.2l1.6-.6L4 2.2h6l2.2 3.4 1.8.6v2.4z" fill="currentColor" />
    <circle cx="4.2" cy="9.2" r="1.9" fill="currentColor" stroke="#fff" strokeWidth="0.9" />
    <circle cx="10.8" cy="9.2" r="1.9" fill="currentColor" stroke="#fff" strokeWidth="0.9" />
  </svg>
)

export const Flag = (place: { x?: number; y?: number }) => (
  <svg {...place} width="11" height="12" viewBox="0 0 11 12" aria-hidden="true">
    <path d="M1.5 1v10.4" stroke="currentColor" strokeWidth="1.4" strokeLinecap="round" />
    <path d="M2 1.4h8L8 4l2 2.6H2z" fill="currentColor" />
  </svg>
)
