/**
 * Does things one after another, each in a task of its own: between them the browser draws and hears keys. What one piece of news means for
 * the rows, for the list and for all else is felt when it is done at once.
 */
export class SpacedTasks {
  private readonly waiting: (() => void)[] = [];
  private readonly channel = new MessageChannel();

  constructor() {
    this.channel.port1.onmessage = () => {
      this.waiting.shift()?.();
      if (this.waiting.length > 0) this.channel.port2.postMessage(null);
    };
  }

  add(...acts: (() => void)[]): void {
    const runs = this.waiting.length > 0;
    this.waiting.push(...acts);
    if (!runs && acts.length > 0) this.channel.port2.postMessage(null);
  }

  close(): void {
    this.waiting.length = 0;
    this.channel.port1.close();
  }
}
