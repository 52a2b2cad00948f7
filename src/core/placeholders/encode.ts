const UNRESERVED_ONLY = /^[\w.~-]*$/;

/** Percent-encodes all but the unreserved characters of RFC 3986. Lone surrogates become U+FFFD. */
export const encodeValue = (text: string): string =>
  UNRESERVED_ONLY.test(text)
    ? text
    : encodeURIComponent(text.toWellFormed()).replace(
        /[!'()*]/g,
        (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`,
      );
