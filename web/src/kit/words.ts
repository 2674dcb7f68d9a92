import { say } from './tongue'

/** What these pages say. */
export const words = say({
  save: 'Save',
  cancel: 'Cancel',
  close: 'Close',
  undo: 'Undo',
  face: {
    loading: 'Loading…',
    away: 'No connection to your kitchen',
    awayWhat: 'This page has not been loaded on this device yet. It appears as soon as the connection is back.',
    failed: 'This didn’t load',
    again: 'Try again',
  },
  guess: {
    estimate: 'estimate',
    why:
      'This rests on a price that we made up and nobody has paid yet. ' +
      'Type what you paid, or add a receipt, and it is exact.',
  },
  address: {
    here: 'This address opens on this computer alone.',
    set: 'Set your public address',
  },
  wishes: {
    vegan: 'vegan',
    vegetarian: 'vegetarian',
    'no alcohol': 'no alcohol',
    'no gelatine': 'no gelatine',
    'halal-friendly': 'halal-friendly',
    'low sugar': 'low sugar',
  },
  asks: {
    isToSuit: 'Is to suit',
    freeFrom: 'Must be free from',
    freeOf: (allergen: string) => `no ${allergen}`,
    example: 'vegan, free from nuts…',
  },
  hint: { what: (of: string) => `What is “${of}”?` },
})
