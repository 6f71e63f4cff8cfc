/** Minor-unit digits per ISO 4217 (list one, active codes; funds and metals without a minor unit are left out). */
const DIGITS: readonly (readonly [number, string])[] = [
  [0, 'BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX VND VUV XAF XOF XPF'],
  [3, 'BHD IQD JOD KWD LYD OMR TND'],
  [
    2,
    `AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BOV BRL BSD BTN BWP BYN BZD CAD
  CDF CHE CHF CHW CNY COP COU CRC CUC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP
  GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL
  MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MXV MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN
  QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD
  TWD TZS UAH USD USN UYU UZS VED VES WST XCD YER ZAR ZMW ZWG`,
  ],
]

const digitsByCode = new Map(
  DIGITS.flatMap(([digits, codes]) => codes.split(/\s+/).map((code) => [code, digits] as const)),
)

/** Digits after the point of a currency's minor unit (ISO 4217), or `undefined` for an unknown code. */
export const minorDigits = (code: string): number | undefined => digitsByCode.get(code)

/** Every known currency code, in alphabetical order. */
export const currencyCodes = (): string[] => [...digitsByCode.keys()].sort()
