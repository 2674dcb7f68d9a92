import { say } from '../kit/tongue'

/** What the settings of the ask page say, where it is more than a word. */
export const words = say({
  title: 'Ask page',
  lead: 'A public page of your kitchen: customers see your treats, choose a day on which you can still make them, and their question stands among your requests.',
  open: 'Open to everyone who has the address',
  slug: 'Its address',
  hello: 'What you say first',
  helloExample: 'Everything is made by hand. Ask early: good chocolate takes its time.',
  notice: 'Days of notice',
  noticeHelp: 'Days from today on that are not offered.',
  weekdays: 'Handovers on',
  days: ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'],
  from: 'from',
  to: 'to',
  delivers: 'They may ask for delivery',
  hidden: 'Not shown',
  hiddenHelp: 'Treats that one cannot ask for.',
  save: 'Save the ask page',
  saved: 'Ask page saved.',
  copy: 'Copy the address',
  copied: 'Address copied.',
  look: 'Look at it',
})
