/** What the bench says of pieces that break. */
export const words = {
  toMelt: 'to melt',
  oneBroke: '− one broke',
  oneBrokeAt: (step: string, treat: string) => `One broke at ${step}, ${treat}`,
  broken: (n: number) => `${n} broken`,
  broke: (n: number, treat: string) => `${treat}: ${n} broken at this step.`,
}
