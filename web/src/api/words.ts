import { say } from '../kit/tongue'

/** What these pages say. */
export const words = say({
  weCantReachYourKitchen:
    'We can’t reach your kitchen. What you typed is still here and will be saved when the connection is back.',
  somethingWentWrongTryAgain: 'Something went wrong. Try again.',
})
