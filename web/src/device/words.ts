/** What these pages say. */
export const words = {
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
}
