/**
 * The SQLite file. TypeORM has one connection on it, so writes wait in one line: two transactions at once would fall
 * into each other.
 */
import "reflect-metadata";
import { DataSource, type EntityManager } from "typeorm";
import { bringUpAll } from "./documents/documents.ts";
import { ENTITIES } from "./entities.ts";
import { MIGRATIONS } from "./migrations/index.ts";
import { inWords, isBusy } from "./write-failures.ts";

/** For how long a file that another program holds is asked for again. */
const BUSY_MS = 5000;
const BUSY_STEP_MS = 50;

interface Pragmas {
  pragma(text: string): unknown;
}

export class Database {
  readonly source: DataSource;
  readonly file: string;
  #line: Promise<unknown> = Promise.resolve();
  /** Called ahead of each transaction: what it throws is the transaction's failure. For tests of failing writes. */
  beforeWrite: (() => void) | null = null;

  private constructor(source: DataSource, file: string) {
    this.source = source;
    this.file = file;
  }

  static async open(file: string): Promise<Database> {
    const source = new DataSource({
      type: "better-sqlite3",
      database: file,
      entities: ENTITIES,
      migrations: MIGRATIONS,
      migrationsRun: true,
      synchronize: false,
      enableWAL: true,
      prepareDatabase: (connection: Pragmas) => {
        connection.pragma("synchronous = NORMAL");
        // Waiting inside the driver would hold the server's thread: `write` waits.
        connection.pragma("busy_timeout = 0");
      },
    });
    await source.initialize();
    await source.transaction((manager) => bringUpAll(manager));
    return new Database(source, file);
  }

  get read(): EntityManager {
    return this.source.manager;
  }

  /**
   * Runs one transaction after all those asked for before it; again after a while where another program holds the file.
   * @throws PlanTesterError storage when the disk is full or can't be written: the transaction has then changed nothing.
   */
  write<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.pause(() => this.#transact(work));
  }

  async #transact<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const giveUpAt = performance.now() + BUSY_MS;
    for (;;)
      try {
        this.beforeWrite?.();
        return await this.source.transaction(work);
      } catch (error) {
        if (!isBusy(error) || performance.now() > giveUpAt) throw inWords(error, this.file);
        await new Promise((resolve) => setTimeout(resolve, BUSY_STEP_MS));
      }
  }

  /** Keeps writes waiting while something else has the file. */
  pause<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#line.then(work);
    this.#line = result.catch(() => undefined);
    return result;
  }

  async close(): Promise<void> {
    await this.#line;
    await this.source.destroy();
  }
}
