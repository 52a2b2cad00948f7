const BASE58 = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';
export const CODE_LENGTH = 8;

/** Eight characters of base58 (46.9 bits), permanent and unguessable. */
export const isLinkCode = (text: string): boolean => /^[1-9A-HJ-NP-Za-km-z]{8}$/.test(text);

/**
 * @param randomBytes draws fresh bytes; bytes from 232 up are thrown away so that every character is equally likely.
 */
export function drawLinkCode(randomBytes: (count: number) => Uint8Array): string {
  let code = '';
  while (code.length < CODE_LENGTH) {
    for (const byte of randomBytes(12)) {
      if (byte < 232 && code.length < CODE_LENGTH) code += BASE58.charAt(byte % 58);
    }
  }
  return code;
}
