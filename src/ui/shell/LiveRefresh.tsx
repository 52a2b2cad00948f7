'use client';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';

const EVERY_MS = 500;

/** Asks once a second whether anything changed, and renders the screen anew only then. Rests in hidden tabs. */
export function LiveRefresh({ mark }: { mark: string }) {
  const router = useRouter();
  useEffect(() => {
    let known = mark;
    const timer = setInterval(async () => {
      if (document.hidden) return;
      const answer = await fetch('/live').catch(() => undefined);
      const now = answer?.ok ? await answer.text() : known;
      if (now === known) return;
      known = now;
      router.refresh();
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [router, mark]);
  return null;
}
