import { say } from '../kit/tongue'

/** What these pages say. */
export const words = say({
  restored: {
    found: 'This was typed earlier on this device. It isn’t saved yet.',
    forget: 'Discard it',
  },
  both: {
    both: 'Someone else changed this too, so your changes aren’t saved yet.',
    theirs: 'Use theirs',
    mine: 'Keep mine',
  },
  sheetForm: { saved: (name: string) => `${name} is saved.` },
})
