/** What a command is handed: where it prints, what it was told, and which drawer it is about. */
export interface Context {
  /** Standard output: results. */
  print(text: string): void;
  /** Standard error: what a result alone does not say. */
  remark(text: string): void;
  /** How wide lines may be, in columns. */
  readonly width: number;
  /** Whether somebody is watching a terminal. */
  readonly interactive: boolean;
  readonly now: Date;
  /** The drawer's file; `undefined` for the user's own. */
  readonly drawerPath: string | undefined;
}

export interface ProcessLike {
  readonly stdout: { write(text: string): unknown; readonly columns?: number; readonly isTTY?: boolean };
  readonly stderr: { write(text: string): unknown; readonly isTTY?: boolean };
  readonly env: Readonly<Record<string, string | undefined>>;
}

/** `drawerOption` is what `--drawer` says; the variable `DRAWER` stands in for it. */
export function createContext(process: ProcessLike, drawerOption: string | undefined): Context {
  return {
    print: (text) => void process.stdout.write(`${text}\n`),
    remark: (text) => void process.stderr.write(`${text}\n`),
    width: process.stdout.columns ?? (Number(process.env.COLUMNS) || 100),
    interactive: process.stderr.isTTY === true,
    now: new Date(),
    drawerPath: drawerOption || process.env.DRAWER || undefined,
  };
}
