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
  packSoMany: 'Pack so many',
  otherBoxes: 'Other boxes',
  asTheTreatSays: 'Pack as the treat says',
  wouldCost: (cost: string) => `${cost} in all`,
  notAsManyInTheLarder: 'not as many in the larder',
  guests: 'Guests',
  guestsExample: 'Name, Table\nAna Quay, 4\nBo Hill, 4',
  guestsOf: (name: string) => `Guests of ${name}`,
  openGuests: 'Open a file',
  atTable: (name: string, guests: number) => `${name} (${guests})`,
  badGuests: (lines: string) => `Lines that cannot be read: ${lines}.`,
  guestsAt: (guests: number, tables: number) =>
    `${guests === 1 ? '1 guest' : `${guests} guests`}${tables > 0 ? ` at ${tables === 1 ? '1 table' : `${tables} tables`}:` : '.'}`,
  forGuests: 'A box for each guest of a list',
  forGuestsWhat: 'A guest a line, or a file with names and tables. The mixed boxes and what goes into them follow it.',
  boxForEach: (n: number) => (n === 1 ? 'A box for 1 guest' : `A box for each of ${n} guests`),
})
