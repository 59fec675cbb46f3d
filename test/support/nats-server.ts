import { type ChildProcess, spawn } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createConnection, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { jetstreamManager } from '@nats-io/jetstream';
import { connect } from '@nats-io/transport-node';

/** NATS servers of a test, each with its own port and folder: one alone, or several as a cluster. */
export class NatsServers {
  readonly folder = mkdtempSync(join(tmpdir(), 'drawer-nats-'));
  readonly ports: readonly number[];
  /** Where pages reach them. */
  readonly #pagePorts: readonly number[];
  readonly #processes: (ChildProcess | undefined)[];

  private constructor(ports: readonly number[], pagePorts: readonly number[]) {
    this.ports = ports;
    this.#pagePorts = pagePorts;
    this.#processes = ports.map(() => undefined);
  }

  /** @param access - what their configuration says of who may do what */
  static async start(count = 1, access = ''): Promise<NatsServers> {
    const all = await freePorts(3 * count);
    const servers = new NatsServers(all.slice(0, count), all.slice(2 * count));
    const routes = all.slice(count, 2 * count).map((port) => `"nats://127.0.0.1:${port}"`);
    servers.ports.forEach((port, index) => {
      const cluster = `cluster { name: drawer, listen: "127.0.0.1:${all[count + index]}", routes: [${routes}] }\n`;
      mkdirSync(servers.#folderOf(index));
      writeFileSync(
        servers.#configurationOf(index),
        `server_name: s${index}\nlisten: "127.0.0.1:${port}"\nwebsocket { listen: "127.0.0.1:${all[2 * count + index]}", no_tls: true }\njetstream { store_dir: "${servers.#folderOf(index)}" }\n${count > 1 ? cluster : ''}${access}`,
      );
    });
    await Promise.all(servers.ports.map((_, index) => servers.restart(index)));
    if (count > 1) await servers.#leaderChosen();
    return servers;
  }

  /** Several servers do nothing before they have chosen a leader. */
  async #leaderChosen(): Promise<void> {
    const connection = await connect({ servers: this.ports.map((port) => `127.0.0.1:${port}`) });
    const manager = await jetstreamManager(connection, { checkAPI: false, timeout: 1_000 });
    const isChosen = (): Promise<boolean> => manager.getAccountInfo().then(Boolean, () => false);
    while (!(await isChosen()));
    await connection.close();
  }

  /** The address of a drawer on one of them. */
  address(name: string, index = 0, access = ''): string {
    return `nats://${access}127.0.0.1:${this.ports[index]}/${name}`;
  }

  /** The address of a drawer for a page. */
  pageAddress(name: string, access = ''): string {
    return `ws://${access}127.0.0.1:${this.#pagePorts[0]}/${name}`;
  }

  /** Ends a server at once, as a machine that fails does. */
  async kill(index = 0): Promise<void> {
    const running = this.#processes[index];
    this.#processes[index] = undefined;
    if (!running) return;
    const ended = new Promise((done) => running.once('exit', done));
    running.kill('SIGKILL');
    await ended;
  }

  /** Starts a server on what it had on disk. */
  async restart(index = 0): Promise<void> {
    const port = this.ports[index] as number;
    do {
      if (this.#processes[index]?.exitCode !== null)
        this.#processes[index] = spawn('nats-server', ['-c', this.#configurationOf(index)], { stdio: 'ignore' });
      await pause(50);
    } while (!(await answers(port)));
  }

  /** All that the servers have on disk, as Latin-1. */
  disk(): string {
    const files = readdirSync(this.folder, { recursive: true, withFileTypes: true }).filter((file) => file.isFile());
    return files.map((file) => readFileSync(join(file.parentPath, file.name), 'latin1')).join('\n');
  }

  async stop(): Promise<void> {
    for (const index of this.ports.keys()) await this.kill(index);
    rmSync(this.folder, { recursive: true, force: true });
  }

  #folderOf(index: number): string {
    return join(this.folder, `server-${index}`);
  }

  #configurationOf(index: number): string {
    return join(this.folder, `server-${index}.conf`);
  }
}

/** Ports that nobody listens at, of those that systems give to no program by themselves: a server comes back to its own. */
async function freePorts(count: number): Promise<number[]> {
  const ports: number[] = [];
  while (ports.length < count) {
    const port = randomInt(20_000, 30_000);
    if (!ports.includes(port) && (await isFree(port))) ports.push(port);
  }
  return ports;
}

const isFree = (port: number): Promise<boolean> =>
  new Promise((told) => {
    const server = createServer().once('error', () => told(false));
    server.listen(port, '127.0.0.1', () => server.close(() => told(true)));
  });

const answers = (port: number): Promise<boolean> =>
  new Promise((told) => {
    const socket = createConnection({ port, host: '127.0.0.1', timeout: 1_000 });
    const tell = (does: boolean) => (): void => {
      socket.destroy();
      told(does);
    };
    socket.once('data', tell(true)).once('error', tell(false)).once('timeout', tell(false)).once('close', tell(false));
  });
