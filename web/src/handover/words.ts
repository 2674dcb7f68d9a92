/** What the handovers say, where it is more than a word. */
export const words = {
  pay: (who: string) => `Hand over to ${who}`,
  due: (money: string) => `${money} is due.`,
  amount: 'Amount paid',
  method: 'Payment method',
  methods: [
    { value: 'cash', label: 'cash' },
    { value: 'card', label: 'card' },
    { value: 'transfer', label: 'transfer' },
  ],
  paid: 'Record payment and hand over',
  unpaid: 'Hand over, pay later',
}
