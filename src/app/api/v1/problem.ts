import type { Problem } from '@/core/schema/problems';
import type { Refusal, RefusalKind } from '@/services/refusal';

export const STATUS: Record<RefusalKind, number> = {
  invalid: 422,
  unauthenticated: 401,
  forbidden: 403,
  not_found: 404,
  conflict: 409,
  too_many: 429,
};
const TITLES: Record<number, string> = {
  400: 'The request cannot be read',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Method not allowed',
  409: 'Not possible now',
  422: 'The input is not valid',
  429: 'Too many requests',
};

/** Problem details by RFC 9457. */
export const problem = (status: number, detail: string, errors: readonly Problem[] = []): Response =>
  Response.json(
    { type: 'about:blank', title: TITLES[status] ?? 'Refused', status, detail, ...(errors.length > 0 && { errors }) },
    {
      status,
      headers: {
        'Content-Type': 'application/problem+json',
        'Cache-Control': 'no-store',
        ...(status === 401 && { 'WWW-Authenticate': 'Bearer' }),
      },
    },
  );

export const problemOf = ({ kind, message, problems }: Refusal): Response => problem(STATUS[kind], message, problems);
