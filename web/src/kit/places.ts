/** Countries, currencies and time zones, by the names that the browser knows for them. */

const names = (type: 'region' | 'currency') => new Intl.DisplayNames('en', { type })

export const countryName = (code: string) => (code ? (names('region').of(code) ?? code) : '')
export const currencyName = (code: string) => {
  try {
    return names('currency').of(code) ?? code
  } catch {
    return code // not three letters
  }
}

const sorted = (list: { value: string; label: string }[]) => list.sort((a, b) => a.label.localeCompare(b.label))

export const countryOptions = (codes: string[]) =>
  sorted(codes.map((code) => ({ value: code, label: countryName(code) })))

export const currencyOptions = () =>
  sorted(Intl.supportedValuesOf('currency').map((code) => ({ value: code, label: `${currencyName(code)} (${code})` })))

/** All zones; the one that is chosen stays in the list even where this browser does not know it. */
export const zoneOptions = (chosen?: string) => {
  const zones = Intl.supportedValuesOf('timeZone')
  return (!chosen || zones.includes(chosen) ? zones : [chosen, ...zones]).map((z) => ({
    value: z,
    label: z.replaceAll('_', ' '),
  }))
}

/** Where this browser seems to be: by its language, else by what that language is mostly spoken in. */
export const guessedCountry = () => new Intl.Locale(navigator.language).maximize().region ?? ''
export const guessedZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone

/** Countries that one can say one is in: all that the browser has a name for. */
export const allCountries = (() => {
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split('')
  const known = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' })
  const no = new Set(['EU', 'EZ', 'UN', 'QO', 'XA', 'XB', 'ZZ'])
  // One that has another code by now stands under that.
  const now = (code: string) => Intl.getCanonicalLocales(`und-${code}`)[0] === `und-${code}`
  return letters
    .flatMap((a) => letters.map((b) => a + b))
    .filter((code) => !no.has(code) && known.of(code) && now(code))
})()
