/** The package's list alone: its index brings lookups that are not needed. */
declare module 'currency-codes/data.js' {
  const data: readonly { readonly code: string; readonly digits: number }[]
  export default data
}
