import { say } from '../kit/tongue'

/** What is said of boxes. */
export const words = say({
  fromAboveAndBeside: (box: string, n: number) =>
    n === 0 ? `${box}, empty: from above and from the side` : `${n} pieces in ${box}: from above and from the side`,
  toSpare: (height: string) => `, ${height} to spare`,
  boxes: 'Boxes',
  useThese: 'Use these',
  otherBoxes: 'Other boxes',
  asTheTreatSays: 'Pack as the treat says',
  wouldCost: (cost: string) => `${cost} in all`,
  notAsManyInTheLarder: 'not as many in the larder',
})
