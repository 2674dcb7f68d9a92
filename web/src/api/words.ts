/** What these pages say. */
export const words = {
  weCantReachYourKitchen:
    'We can’t reach your kitchen. What you typed is still here and will be saved when the connection is back.',
  somethingWentWrongTryAgain: 'Something went wrong. Try again.',
}
