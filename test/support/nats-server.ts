import { type ChildProcess, spawn } from 'node:child_process';
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
  readonly #processes: (ChildProcess | undefined)[];

  private constructor(ports: readonly number[]) {
    this.ports = ports;
    this.#processes = ports.map(() => undefined);
  }

  /** @param access - what their configuration says of who may do what */
  static async start(count = 1, access = ''): Promise<NatsServers> {
    const all = await freePorts(2 * count);
    const servers = new NatsServers(all.slice(0, count));
    const routes = all.slice(count).map((port) => `"nats://127.0.0.1:${port}"`);
    servers.ports.forEach((port, index) => {
      const cluster = `cluster { name: drawer, listen: "127.0.0.1:${all[count + index]}", routes: [${routes}] }\n`;
      mkdirSync(servers.#folderOf(index));
      writeFileSync(
        servers.#configurationOf(index),
        `server_name: s${index}\nlisten: "127.0.0.1:${port}"\njetstream { store_dir: "${servers.#folderOf(index)}" }\n${count > 1 ? cluster : ''}${access}`,
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
    this.#processes[index] = spawn('nats-server', ['-c', this.#configurationOf(index)], { stdio: 'ignore' });
    const port = this.ports[index] as number;
    while (!(await answers(port))) await pause(50);
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

async function freePorts(count: number): Promise<number[]> {
  const listening = Array.from({ length: count }, () => createServer().listen(0, '127.0.0.1'));
  await Promise.all(listening.map((server) => new Promise((ready) => server.once('listening', ready))));
  const ports = listening.map((server) => (server.address() as { readonly port: number }).port);
  await Promise.all(listening.map((server) => new Promise((closed) => server.close(closed))));
  return ports;
}

const answers = (port: number): Promise<boolean> =>
  new Promise((told) => {
    const socket = createConnection(port, '127.0.0.1');
    socket.once('data', () => told(true)).once('error', () => told(false));
    socket.once('data', () => socket.destroy());
  });
