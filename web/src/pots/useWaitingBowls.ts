import { useActs, type Waits } from '../bench/queue'

/** A bowl that was begun without a network, and when. */
export type WaitingBowlOf = Extract<Waits['act'], { kind: 'pot' }> & { at: string }

/** The bowls of which the kitchen has not heard yet. */
export function useWaitingBowls(): WaitingBowlOf[] {
  return useActs().waiting.flatMap((w) => (w.act.kind === 'pot' && !w.refused ? [{ ...w.act, at: w.at }] : []))
}
