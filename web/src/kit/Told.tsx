import { Fragment, type ReactNode } from 'react'

/**
 * A sentence with fields, links or keys in it: "Drag a step, or press {key}". It stands whole in the words, so that
 * another language can put its parts where it wants them.
 */
export const Told = ({ text, parts }: { text: string; parts: Record<string, ReactNode> }) =>
  text
    .split(/(\{\w+\})/)
    .map((piece, i) => <Fragment key={i}>{piece.startsWith('{') ? parts[piece.slice(1, -1)] : piece}</Fragment>)
