import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { PieceWave } from '@/core/sound/peaks';

/** Most waves that are kept; some 10 kB each. */
const mostKept = 400;
/** Counts what changes how a wave comes out from the same piece. */
const version = 1;

interface KeptWave {
  signature: string;
  wave: PieceWave;
  /** When it was last wanted, ms since the epoch. */
  at: number;
}

interface WaveSchema extends DBSchema {
  waves: { key: string; value: KeptWave; indexes: { at: number } };
}

/** Waves by piece in the browser's own storage, so that they need not be mixed again at the next visit; without storage nothing is kept. */
export class WaveStore {
  private database: Promise<IDBPDatabase<WaveSchema> | null> | null = null;

  /** A piece's wave, if it is that of what the signature says. */
  async get(pieceId: string, signature: string): Promise<PieceWave | null> {
    const database = await this.opened();
    const kept = await database?.get('waves', pieceId).catch(() => undefined);
    return kept?.signature === signature ? kept.wave : null;
  }

  /** Keeps a piece's wave, and lets go of those that nobody has wanted for longest. */
  async keep(signature: string, wave: PieceWave) {
    const database = await this.opened();
    if (!database) return;
    try {
      await database.put('waves', { signature, wave, at: Date.now() }, wave.id);
      let over = (await database.count('waves')) - mostKept;
      const transaction = database.transaction('waves', 'readwrite');
      for (
        let cursor = await transaction.store.index('at').openCursor();
        cursor && over > 0;
        cursor = await cursor.continue(), over--
      )
        await cursor.delete();
      await transaction.done;
    } catch {
      // Full or taken away meanwhile: it is mixed anew next time.
    }
  }

  private opened() {
    this.database ??= openDB<WaveSchema>('kiv-waves', version, {
      upgrade(database) {
        for (const name of database.objectStoreNames) database.deleteObjectStore(name);
        database.createObjectStore('waves').createIndex('at', 'at');
      },
    }).catch(() => null);
    return this.database;
  }
}
