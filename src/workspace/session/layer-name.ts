import type { LayerRow } from '@/core/document/tables';
import { roleName } from '@/interface/theme';

export function layerName({ role }: Pick<LayerRow, 'role'>): string {
  return `${roleName[role].toLowerCase()} shot`;
}
