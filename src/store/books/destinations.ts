import type { Db } from '../database';

export interface DestinationCheck {
  address: string;
  checkedAt: number;
  status: number | null;
  problem: string;
  failingSince: number | null;
}

/** Distinct pages that live links of live partners lead to, with the offer's landing pages for those without one. */
const IN_USE = `SELECT DISTINCT CASE WHEN l.destination <> '' THEN l.destination ELSE
    coalesce((SELECT json_extract(value, '$.address') FROM json_each(o.landing_pages) WHERE json_extract(value, '$.name') = l.landing),
      json_extract(o.landing_pages, '$[0].address')) END AS address
  FROM links l JOIN partners p ON p.id = l.partner_id JOIN offers o ON o.id = l.offer_id
  WHERE l.program_id = :programId AND l.state = 'live' AND p.state = 'active' AND o.state = 'live'`;

export function destinationStore(db: Db) {
  const stale = db.prepare<{ programId: number; before: number; limit: number }, { address: string }>(
    `SELECT u.address FROM (${IN_USE}) u LEFT JOIN destination_checks k ON k.program_id = :programId AND k.address = u.address
     WHERE instr(u.address, '{') = 0 AND coalesce(k.checked_at, 0) < :before ORDER BY coalesce(k.checked_at, 0) LIMIT :limit`,
  );
  const put = db.prepare<{ programId: number; address: string; now: number; status: number | null; problem: string }>(
    `INSERT INTO destination_checks (program_id, address, checked_at, status, problem, failing_since)
     VALUES (:programId, :address, :now, :status, :problem, iif(:problem = '', NULL, :now))
     ON CONFLICT (program_id, address) DO UPDATE SET checked_at = :now, status = :status, problem = :problem,
       failing_since = iif(:problem = '', NULL, coalesce(failing_since, :now))`,
  );
  const failing = db.prepare<[number], DestinationCheck & { links: number; offers: string }>(
    `SELECT k.address, k.checked_at AS checkedAt, k.status, k.problem, k.failing_since AS failingSince,
       (SELECT count(*) FROM links l WHERE l.program_id = k.program_id AND l.destination = k.address) AS links,
       coalesce((SELECT group_concat(o.name, ', ') FROM offers o WHERE o.program_id = k.program_id
         AND EXISTS (SELECT 1 FROM json_each(o.landing_pages) WHERE json_extract(value, '$.address') = k.address)), '') AS offers
     FROM destination_checks k WHERE k.program_id = ? AND k.failing_since IS NOT NULL ORDER BY k.failing_since LIMIT 20`,
  );
  const check = db.prepare<[number, string], DestinationCheck>(
    `SELECT address, checked_at AS checkedAt, status, problem, failing_since AS failingSince FROM destination_checks
     WHERE program_id = ? AND address = ?`,
  );
  return {
    /** Pages in use that were not looked at since a time, the longest ago first. */
    stale: (programId: number, before: number, limit: number): string[] =>
      stale.all({ programId, before, limit }).map(({ address }) => address),
    put: (row: Parameters<typeof put.run>[0]): void => void put.run(row),
    /** Failing pages that something still leads to. */
    failing: (programId: number) => failing.all(programId).filter(({ links, offers }) => links > 0 || offers !== ''),
    check: (programId: number, address: string) => check.get(programId, address),
  };
}
