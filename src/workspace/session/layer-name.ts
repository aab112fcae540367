import type { LayerRow } from '@/core/document/tables';
import { roleName } from '@/interface/theme';

/** A layer in the middle of a sentence, after “the”. */
export function layerName({ name, role }: Pick<LayerRow, 'name' | 'role'>): string {
  return name === null ? `${roleName[role].toLowerCase()} shot` : `layer “${name}”`;
}
