import type { JobKind, JobWork } from './job';
import { linksJob } from './links';
import { reconcileJob } from '../reconciling';
import { conversionsJob } from '../recording';
import { channelsJob, couponsJob, partnersJob } from './people';
import { RUN_WORKS } from './runs';

export const JOBS: Record<JobKind, JobWork> = {
  links: linksJob,
  partners: partnersJob,
  channels: channelsJob,
  coupons: couponsJob,
  conversions: conversionsJob,
  reconcile: reconcileJob,
  ...RUN_WORKS,
};
