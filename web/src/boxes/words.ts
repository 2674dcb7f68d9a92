import { say } from '../kit/tongue'

/** What is said of boxes. */
export const words = say({
  fromAboveAndBeside: (box: string, n: number) =>
    n === 0 ? `${box}, empty: from above and from the side` : `${n} pieces in ${box}: from above and from the side`,
  toSpare: (height: string) => `, ${height} to spare`,
  boxes: 'Boxes',
  mixed: 'Mixed boxes',
  mixBoxes: 'Pack several treats together…',
  boxesOf: (n: number) => `How many of mixed box ${n}`,
  whichBox: (n: number) => `Box of mixed box ${n}`,
  leaveOut: (n: number) => `Do without mixed box ${n}`,
  inEach: (treat: string, n: number) => `${treat} in mixed box ${n}`,
  reaches: (n: number) => `enough for ${n}`,
  useThese: 'Use these',
  otherBoxes: 'Other boxes',
  asTheTreatSays: 'Pack as the treat says',
  wouldCost: (cost: string) => `${cost} in all`,
  notAsManyInTheLarder: 'not as many in the larder',
})
