import { AddressSet } from '@/core/clicks/addresses';
import type { Routes } from '@/store/books';

interface Lists {
  readonly setAside: AddressSet[];
  readonly proxies: AddressSet[];
}

/** The lists of addresses in force, by program; read again when one was changed. */
export class ListBook {
  private readonly programs = new Map<number, Lists>();
  private version = -1;

  constructor(private readonly routing: Routes['routing']) {}

  refresh(version: number): void {
    if (version === this.version) return;
    this.version = version;
    this.programs.clear();
    for (const { programId, effect, four, six } of this.routing.listsInForce()) {
      const lists = this.programs.get(programId) ?? { setAside: [], proxies: [] };
      this.programs.set(programId, lists);
      lists[effect === 'set_aside' ? 'setAside' : 'proxies'].push(AddressSet.read({ four, six }));
    }
  }

  isListed(programId: number, address: string): boolean {
    return this.programs.get(programId)?.setAside.some((set) => set.has(address)) ?? false;
  }
  isProxy(programId: number, address: string): boolean {
    return this.programs.get(programId)?.proxies.some((set) => set.has(address)) ?? false;
  }
}
