import { dataVersion, type Db, openForReading, openForWriting } from '../database';
import { auditStore } from './audit';
import { callStore } from './calls';
import { commissionStore } from './commissions';
import { conversionStore } from './conversions';
import { couponStore } from './coupons';
import { destinationStore } from './destinations';
import { figureStore } from './figures';
import { ledgerStore } from './ledger';
import { importStore } from './imports';
import { linkStore } from './links';
import { mailStore } from './mail';
import { offerStore } from './offers';
import { partnerTermStore } from './partner_terms';
import { partnerStore } from './partners';
import { payoutStore } from './payouts';
import { positionStore } from './positions';
import { programStore } from './programs';
import { reconciliationStore } from './reconciliations';
import { repairStore } from './repairs';
import { reviewStore } from './reviews';
import { routingStore } from './routing';
import { sourceStore } from './sources';
import { termStore } from './terms';
import { userStore } from './users';
import { viewStore } from './views';

const assemble = (db: Db) => ({
  db,
  version: dataVersion(db),
  programs: programStore(db),
  users: userStore(db),
  audit: auditStore(db),
  partners: partnerStore(db),
  offers: offerStore(db),
  links: linkStore(db),
  sources: sourceStore(db),
  destinations: destinationStore(db),
  mail: mailStore(db),
  partnerTerms: partnerTermStore(db),
  terms: termStore(db),
  conversions: conversionStore(db),
  coupons: couponStore(db),
  calls: callStore(db),
  commissions: commissionStore(db),
  ledger: ledgerStore(db),
  payouts: payoutStore(db),
  positions: positionStore(db),
  figures: figureStore(db),
  routing: routingStore(db),
  views: viewStore(db),
  imports: importStore(db),
  repairs: repairStore(db),
  reconciliations: reconciliationStore(db),
  reviews: reviewStore(db),
  /** Runs work and takes back whatever it wrote: to say what would happen. */
  takingBack: <T>(work: () => T): T => {
    // As a savepoint it also works within a transaction (SQLite, SAVEPOINT).
    db.exec('SAVEPOINT taking_back');
    try {
      return work();
    } finally {
      db.exec('ROLLBACK TO taking_back; RELEASE taking_back');
    }
  },
  /** Runs everything in one write transaction; nested calls join the outer one. */
  inTransaction: <T>(work: () => T): T => (db.inTransaction ? work() : db.transaction(work).immediate()),
});

export type Books = ReturnType<typeof assemble>;
export const openBooks = (file: string): Books => assemble(openForWriting(file, 'books'));
/** For the edge: links and offers, nothing it could change. */
export function openRoutes(file: string) {
  const db = openForReading(file);
  return {
    db,
    version: dataVersion(db),
    links: linkStore(db),
    programs: programStore(db),
    routing: routingStore(db),
    calls: callStore(db),
  };
}
export type Routes = ReturnType<typeof openRoutes>;
