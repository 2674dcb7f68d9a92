/** @type {import('prettier').Config} */
export default { printWidth: 120, semi: false, singleQuote: true }
