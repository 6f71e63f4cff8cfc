declare module 'jstat' {
  const jStat: { readonly studentt: { inv(probability: number, freedom: number): number } }
  export default jStat
}
