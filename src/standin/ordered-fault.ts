/** A fault that was ordered: it comes after so many further operations, once. */
import { DeviceError, type Request } from '@/benchlink/messages';

export type Fault = Extract<Request, { op: 'hand-fault' }>['fault'];

export class OrderedFault {
  private ordered: { fault: Fault; after: number } | null = null;

  /**
   * `vanish` and `eject` do what the fault does beside being told; `words` are the drive's own for
   * each.
   */
  constructor(
    private readonly name: string,
    private readonly acts: { vanish(): void; eject(): void },
    private readonly words: Record<Fault, string>,
  ) {}

  order(fault: Fault, after: number): void {
    this.ordered = { fault, after };
  }

  /** Called at the start of an operation. */
  check(): void {
    if (!this.ordered || this.ordered.after-- > 0) return;
    const { fault } = this.ordered;
    this.ordered = null;
    if (fault === 'device-gone') this.acts.vanish();
    if (fault === 'medium-gone') this.acts.eject();
    throw new DeviceError(fault, `Drive ${this.name} ${this.words[fault]}.`);
  }
}
