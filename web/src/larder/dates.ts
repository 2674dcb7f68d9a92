import dayjs from 'dayjs'

/** A date of a lot: 1 Sep; with its year where that matters. */
export const date = (day: string, year = false) => dayjs(day).format(year ? 'D MMM YYYY' : 'D MMM')
