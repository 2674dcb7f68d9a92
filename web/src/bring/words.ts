import { say } from '../kit/tongue'

/** What bringing customers and prices along says. */
export const words = say({
  title: 'Bring your customers and prices',
  lead: 'Save your list as CSV (any spreadsheet can), open it here, and check what we read. Nothing is saved before you say so.',
  kinds: [
    { value: 'customers', label: 'Customers' },
    { value: 'prices', label: 'Price list' },
  ],
  kind: 'What is in the file',
  open: 'Open a CSV file',
  paste: 'or paste it here',
  example: {
    customers: 'Name,Phone,Email,Address\nAda Quill,555 0134,ada@quill.example,4 Mill Lane',
    prices: 'Item,Price,Per\nStrawberries,24.00,dozen\nMilk malt bombs,4.50,each',
  },
  columns: 'Which column is which',
  none: 'none',
  column: (n: number) => `Column ${n}`,
  customerColumns: { name: 'Name', phone: 'Phone', mail: 'Email', place: 'Delivery address', notes: 'Notes' },
  priceColumns: { name: 'Treat', price: 'Price', count: 'For how many' },
  item: 'In your list',
  treat: 'Treat',
  leave: 'leave out',
  which: (name: string) => `Treat for ${name}`,
  price: 'Price',
  per: 'for',
  bad: (n: number) => (n === 1 ? '1 row can’t be used' : `${n} rows can’t be used`),
  line: (n: number) => `Row ${n}`,
  addCustomers: (n: number) => `Add ${n} ${n === 1 ? 'customer' : 'customers'}`,
  addPrices: (n: number) => `Use ${n} ${n === 1 ? 'price' : 'prices'}`,
  added: (n: number, known: number) =>
    `${n} ${n === 1 ? 'customer' : 'customers'} added.${known > 0 ? ` ${known} you had already.` : ''}`,
  priced: (n: number) => `${n} ${n === 1 ? 'price is' : 'prices are'} in your price list.`,
  read: 'What was read',
  more: (n: number) => `And ${n} more.`,
  tooLarge: 'This file is over 1 MB. Bring it in parts.',
  noTreats: 'Your treats come first: prices belong to them.',
  makeTreats: 'Set out your kitchen',
})
