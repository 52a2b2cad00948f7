'use client';
import { useRouter } from 'next/navigation';
import { type KeyboardEvent, type ReactNode, useEffect } from 'react';

/** Opens the trace of a record in the address, so that it can be sent to a colleague. */
export function traceHref(trace: string | undefined): string {
  const url = new URL(window.location.href);
  if (trace === undefined) url.searchParams.delete('trace');
  else url.searchParams.set('trace', trace);
  return `${url.pathname}${url.search}`;
}

/** Arrow keys walk the rows; T or Enter opens the trace of the one in focus, and T anywhere that of the first. */
export function TableKeys({ children }: { children: ReactNode }) {
  const router = useRouter();
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent): void => {
      const target = event.target;
      const typing = target instanceof HTMLElement && target.closest('input, textarea, select, [role="dialog"]');
      if (event.key !== 't' || typing || event.ctrlKey || event.metaKey || event.altKey) return;
      const row = document.activeElement?.closest('[data-trace]') ?? document.querySelector('[data-trace]');
      const trace = row?.getAttribute('data-trace');
      if (trace) router.push(traceHref(trace), { scroll: false });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [router]);
  const walk = (event: KeyboardEvent): void => {
    if (!(event.target instanceof HTMLTableRowElement)) return;
    const step = { ArrowDown: 'nextElementSibling', ArrowUp: 'previousElementSibling' } as const;
    const next = event.key === 'ArrowDown' || event.key === 'ArrowUp' ? event.target[step[event.key]] : null;
    if (next instanceof HTMLElement) {
      event.preventDefault();
      next.focus();
    } else if (event.key === 'Enter' && event.target.dataset.trace)
      router.push(traceHref(event.target.dataset.trace), { scroll: false });
  };
  return (
    <div className="scroll" role="presentation" onKeyDown={walk}>
      {children}
    </div>
  );
}
