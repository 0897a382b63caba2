/** Whoever asks, in a process of its own: what asking costs is not counted as the server's. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { LANES, median } from './measured';

export interface Asked {
  url: string;
  headers: Record<string, string>;
  status: number;
}

const CALLER = `const http = require('node:http');
const agent = new http.Agent({ keepAlive: true, maxSockets: ${LANES} });
const ask = ({ url, headers, status }) => new Promise((resolve, reject) => http.get(url, { headers, agent }, (answer) => {
  answer.resume().on('end', () => answer.statusCode === status ? resolve() : reject(new Error(url + ' answered ' + answer.statusCode)));
}).on('error', reject));
process.on('message', async ({ asked, requests }) => {
  let left = requests;
  try {
    await Promise.all(Array.from({ length: ${LANES} }, async () => { while (left-- > 0) await ask(asked); }));
    process.send({});
  } catch (error) { process.send({ failed: String(error) }); }
});
process.send({});`;

export class Caller {
  private readonly child = spawn(process.execPath, ['-e', CALLER], { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  private readonly ready = once(this.child, 'message');

  /** Milliseconds of this process's processor a request. @throws Error when one is answered otherwise */
  private async costOf(asked: Asked, requests: number): Promise<number> {
    const from = process.cpuUsage();
    this.child.send({ asked, requests });
    const [{ failed }] = (await once(this.child, 'message')) as [{ failed?: string }];
    if (failed !== undefined) throw new Error(failed);
    const { user, system } = process.cpuUsage(from);
    return (user + system) / 1000 / requests;
  }

  /** Each in its turn, so that a busy hour of the machine is everybody's. @param asked Made anew for each turn. */
  async costs<K extends string>(
    asked: Record<K, () => Promise<Asked>>,
    { turns, requests }: { turns: number; requests: number },
  ): Promise<Record<K, number>> {
    await this.ready;
    const names = Object.keys(asked) as K[];
    const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
    for (let turn = 0; turn <= turns; turn++)
      for (const name of names) {
        const cost = await this.costOf(await asked[name](), requests);
        // The first makes it warm.
        if (turn > 0) times[name].push(cost);
      }
    return Object.fromEntries(names.map((name) => [name, median(times[name])])) as Record<K, number>;
  }

  stop(): void {
    this.child.kill();
  }
}
