import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import type { Currency } from '@/core/money/currency';

interface Props {
  minor: number;
  currency: Currency;
  /** Where the amount explains itself. */
  href?: string;
  /** Within a column that names the currency once. */
  bare?: boolean;
}

/** An amount, always with its minor units; as a link it opens its explanation. */
export function Amount({ minor, currency, href, bare }: Props) {
  const text = showAmount(money(minor, currency));
  const shown = bare ? text.replace(/^(−?)[^\d−]+/, '$1') : text;
  return href ? (
    <a className="amount num" href={href}>
      {shown}
    </a>
  ) : (
    <span className="num">{shown}</span>
  );
}
