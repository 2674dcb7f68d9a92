/** What these pages say. */
export const words = {
  keys: 'Keys',
  findAnything: 'Find anything',
  found: 'Found',
  theNextFourteenDays: 'The next fourteen days',
  weCantReachYourKitchen: 'We can’t reach your kitchen',
  tryAgain: 'Try again',
  liftingTheLid: 'Lifting the lid…',
  skipToContent: 'Skip to content',
  pageNotFound: 'Page not found',
  pickAPageFromThe: 'Pick a page from the lid above.',
}
