/** What these pages say. */
export const words = {
  undo: 'Undo',
}
