import type { components } from './schema'
import { words } from './words'

export type Problem = components['schemas']['WebProblem']

/** A request that the server refused, with its own words. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail ?? problem.title ?? words.somethingWentWrongTryAgain)
  }

  get status() {
    return this.problem.status ?? 0
  }

  /** What is wrong with a field, by its JSON path below the body: lines[0].count */
  at(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.location === `body.${path}`)?.message
  }

  /** What a fault is in a word, by what is said of it. */
  code(message: string): string | undefined {
    const at = this.problem.errors?.find((e) => e.message === message)?.location
    return at ? this.problem.codes?.[at] : undefined
  }

  /** Whether any of the faults lies at path or below it. */
  below(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.location?.startsWith(`body.${path}`))?.message
  }
}
