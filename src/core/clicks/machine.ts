import Bowser from 'bowser';

/** What a user agent says of the visitor's machine. */
export interface Machine {
  readonly device: Device;
  readonly os: string;
  readonly browser: string;
}
export const DEVICES = ['phone', 'tablet', 'desktop', 'television', 'unknown'] as const;
export type Device = (typeof DEVICES)[number];
/** Systems that conditions offer; the names are those that `machineOf` gives. */
export const SYSTEMS = ['Android', 'iOS', 'Windows', 'macOS', 'Linux', 'Chrome OS'] as const;

const DEVICE_OF: Readonly<Record<string, Device>> = {
  mobile: 'phone',
  tablet: 'tablet',
  desktop: 'desktop',
  tv: 'television',
};
const UNKNOWN: Machine = { device: 'unknown', os: 'unknown', browser: 'unknown' };
const MOST_KEPT = 5000;
const machines = new Map<string, Machine>();

/** Device, system and browser by user agent; a few thousand agents make up nearly all traffic, so they are kept. */
export function machineOf(agent: string | null): Machine {
  if (!agent) return UNKNOWN;
  let machine = machines.get(agent);
  if (!machine) {
    const { platform, os, browser } = Bowser.parse(agent);
    machine = {
      device: DEVICE_OF[platform.type ?? ''] ?? 'unknown',
      os: os.name ?? 'unknown',
      browser: browser.name || 'unknown',
    };
    if (machines.size >= MOST_KEPT) machines.clear();
    machines.set(agent, machine);
  }
  return machine;
}

/** The first language of an Accept-Language header, without its region: "nl" of "nl-NL,nl;q=0.9" (RFC 9110, 12.5.4). */
export const firstLanguage = (header: string | null | undefined): string =>
  /^\s*([a-z]{2,3})(?=[-,;\s]|$)/i.exec(header ?? '')?.[1]?.toLowerCase() ?? '';
