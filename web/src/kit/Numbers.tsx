// An amount as it stands in a sentence: 104 to 113 °F, 1 lb 4 oz, 27%.
const figure = String.raw`\d[\d./]*(?:\s\d+\/\d+)?`
const unit = String.raw`(?:°[CF]|%|kg|g|lb|oz|min(?:utes)?|s|h|mL|tsp|tbsp)(?![\p{L}\d])`
const amount = new RegExp(`(${figure}(?:\\s(?:to|or)\\s${figure})?\\s?${unit}(?:\\s${figure}\\soz)?)`, 'u')

/** A line of instructions, its amounts, times and temperatures large enough to be read from where one works. */
export function Numbers({ text }: { text: string }) {
  return text.split(amount).map((part, i) => (i % 2 ? <b key={i}>{part}</b> : part))
}
