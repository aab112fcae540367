import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  Min,
  registerDecorator,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import type {
  CrossingRow,
  FeatherSide,
  LayerRow,
  Origin,
  OutlineKind,
  OutlineRow,
  Plan,
  PoseRow,
  Role,
  RowTypes,
  Side,
  Table,
} from '@/core/document/rows';
import { numbersPerPoint } from '@/core/document/rows';
import type { ExportFormat } from '@/footage/video-writer';
import { Problem } from './problem';
import { validated } from './validate';

const idPattern = /^[\w@-]{1,80}$/;
const frameLimit = 10_000_000;

/** Finite numbers, six a point, 2 to 2000 points; checked in one loop, as there are many. */
function IsCoordinates() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isCoordinates',
      target: target.constructor,
      propertyName,
      options: { message: 'coordinates must be finite numbers within ±1,000,000, six a point' },
      validator: {
        validate: (value: unknown) =>
          Array.isArray(value) &&
          value.length >= numbersPerPoint &&
          value.length <= 2000 * numbersPerPoint &&
          value.length % numbersPerPoint === 0 &&
          value.every((x) => typeof x === 'number' && Math.abs(x) <= 1e6),
      },
    });
}

const trimmed = () => Transform(({ value }) => (typeof value === 'string' ? value.trim() : value));

class CrossingRowBody implements CrossingRow {
  @IsUUID() id!: string;
  @IsString() @Length(1, 120) name!: string;
  @IsIn(['pass-by']) plan!: Plan;
  @IsInt() @Min(2) @Max(8192) width!: number;
  @IsInt() @Min(2) @Max(8192) height!: number;
  @IsInt() @Min(1) @Max(1_000_000) rateNum!: number;
  @IsInt() @Min(1) @Max(100_000) rateDen!: number;
  @IsInt() @Min(1) @Max(100_000) length!: number;
}

class LayerRowBody implements LayerRow {
  @IsUUID() id!: string;
  @IsIn(['outgoing', 'incoming', 'passing']) role!: Role;
  @IsUUID() shotId!: string;
  @IsInt() @Min(0) @Max(100) position!: number;
  @IsInt() @Min(-frameLimit) @Max(frameLimit) offset!: number;
}

class OutlineRowBody implements OutlineRow {
  @IsUUID() id!: string;
  @IsUUID() layerId!: string;
  @IsString() @Length(1, 120) name!: string;
  @IsIn(['seam', 'loop']) kind!: OutlineKind;
  @IsIn(['left', 'right']) sweptSide!: Side;
  @IsInt() @Min(0) @Max(1000) position!: number;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2000)
  @ArrayUnique()
  @IsString({ each: true })
  @Matches(idPattern, { each: true })
  points!: string[];
  @IsIn(['inside', 'outside', 'both']) featherSide!: FeatherSide;
  @IsNumber() @Min(0) @Max(500) feather!: number;
  @IsNumber() @Min(-500) @Max(500) spread!: number;
}

class PoseRowBody implements PoseRow {
  @Matches(idPattern) id!: string;
  @IsUUID() outlineId!: string;
  @IsInt() @Min(0) @Max(frameLimit) frame!: number;
  @IsIn(['by hand', 'carried', 'settled']) origin!: Origin;
  @IsCoordinates() coordinates!: number[];
}

const rowBodies = {
  crossing: CrossingRowBody,
  layer: LayerRowBody,
  outline: OutlineRowBody,
  pose: PoseRowBody,
};

/** A row of a table as it came over the wire, checked. */
export function validatedRow<T extends Table>(table: T, value: unknown): RowTypes[T] {
  return { ...(validated<object>(rowBodies[table], value) as RowTypes[T]) };
}

class RowChangeBody {
  @IsIn(Object.keys(rowBodies)) table!: Table;
  @Matches(idPattern) id!: string;
  @ValidateIf((change: RowChangeBody) => change.before !== null) @IsObject() before!: object | null;
  @ValidateIf((change: RowChangeBody) => change.after !== null) @IsObject() after!: object | null;
}

class EditBody {
  @IsUUID() id!: string;
  @IsString() @Length(1, 200) label!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20_000)
  @ValidateNested({ each: true })
  @Type(() => RowChangeBody)
  changes!: RowChangeBody[];
}

/** One step that a browser sends: something new, or an undo or redo of what is there. */
export class StepBody {
  @IsUUID() requestId!: string;
  @IsInt() @Min(0) baseRevision!: number;
  @IsIn(['do', 'undo', 'redo']) kind!: 'do' | 'undo' | 'redo';
  @ValidateIf((step: StepBody) => step.kind === 'do')
  @IsObject()
  @ValidateNested()
  @Type(() => EditBody)
  edit?: EditBody;
  @ValidateIf((step: StepBody) => step.kind !== 'do') @IsUUID() editId?: string;
}

export class NewCrossingBody {
  @trimmed() @IsString() @Length(1, 120) name!: string;
  @IsIn(['pass-by']) plan!: Plan;
  @IsUUID() outgoingShotId!: string;
  @IsUUID() incomingShotId!: string;
}

export class RenameBody {
  @trimmed() @IsString() @Length(1, 120) name!: string;
}

/** What comes with a finished export, in the address. */
export class ExportQuery {
  @IsUUID() crossingId!: string;
  @Type(() => Number) @IsInt() @Min(0) revision!: number;
  @IsIn(['webm', 'mp4']) format!: ExportFormat;
  @Type(() => Number) @IsInt() @Min(1) @Max(1_000_000) frameCount!: number;
}

export class HistoryQuery {
  @IsOptional() @Type(() => Number) @IsInt() @Min(1) before?: number;
}

/** A file name as people give it: no path parts, no control characters. */
export function validatedFileName(name: string | null): string {
  if (!name || name.length > 200 || /[/\\\u0000-\u001f]/.test(name) || /^\.+$/.test(name)) {
    throw new Problem(
      400,
      'A file name must not be empty, hold path parts such as / or \\, or be over 200 characters.',
    );
  }
  return name;
}
