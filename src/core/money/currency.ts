/**
 * ISO 4217: the active codes and their number of minor-unit digits.
 * Source: ISO 4217 list one. Two digits unless listed below.
 */
const ACTIVE =
  'AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CLF CLP CNY COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP TRY TTD TWD TZS UAH UGX USD UYI UYU UYW UZS VED VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG';

const DIGITS = new Map<string, number>(ACTIVE.split(' ').map((code) => [code, 2]));
for (const code of 'BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF'.split(' '))
  DIGITS.set(code, 0);
for (const code of 'BHD IQD JOD KWD LYD OMR TND'.split(' ')) DIGITS.set(code, 3);
for (const code of 'CLF UYW'.split(' ')) DIGITS.set(code, 4);

/** An ISO 4217 code, upper case. */
export type Currency = string & { readonly __brand: 'Currency' };

export const isCurrency = (code: string): code is Currency => DIGITS.has(code);

/** Narrows a stored or literal code. @throws RangeError for a code that ISO 4217 does not list. */
export function currency(code: string): Currency {
  if (!isCurrency(code)) throw new RangeError(`"${code}" is not an ISO 4217 currency code.`);
  return code;
}

/** Digits after the decimal point: 2 for EUR, 0 for JPY, 3 for KWD. */
export const minorDigits = (code: Currency): number => DIGITS.get(code) ?? 2;

export const currencyCodes = (): Currency[] => [...DIGITS.keys()].map(currency);
