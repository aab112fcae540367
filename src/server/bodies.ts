import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
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
  MaxLength,
  Min,
  registerDecorator,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import type {
  Beyond,
  Combine,
  Crosser,
  CrossingRow,
  EdgeRow,
  EdgeSettings,
  Fit,
  KeyRow,
  LayerRow,
  MarkRow,
  Onward,
  Origin,
  OutlineColour,
  OutlineKind,
  OutlineRow,
  Plan,
  PoseRow,
  Role,
  RowTypes,
  ShotMotion,
  Side,
  Table,
} from '@/core/document/rows';
import { type Blend, blends } from '@/core/colour/transfer';
import { numbersPerPoint, onwards, outlineColours } from '@/core/document/rows';
import { limits } from '@/core/document/limits';
import { plans } from '@/core/document/plans';
import { mostStills } from '@/footage/stills';
import type { ExportFormat } from '@/footage/video-writer';
import { Problem } from './problem';
import { validated } from './validate';

const idPattern = /^[\w@~-]{1,80}$/;
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
          value.length <= limits.points * numbersPerPoint &&
          value.length % numbersPerPoint === 0 &&
          value.every((x) => typeof x === 'number' && Math.abs(x) <= 1e6),
      },
    });
}

/** Up to six million finite numbers; checked in one loop. */
function IsFiniteNumbers() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isFiniteNumbers',
      target: target.constructor,
      propertyName,
      options: { message: `${propertyName} must be finite numbers` },
      validator: {
        validate: (value: unknown) =>
          Array.isArray(value) &&
          value.length <= 6e6 &&
          value.every((x) => typeof x === 'number' && Math.abs(x) <= 1e6),
      },
    });
}

const trimmed = () => Transform(({ value }) => (typeof value === 'string' ? value.trim() : value));

/** Checked only where it is not null. */
const orNull = () => ValidateIf((_row: object, value: unknown) => value !== null);
const planNames = plans.map(({ plan }) => plan);

class CrossingRowBody implements CrossingRow {
  @IsUUID() id!: string;
  @IsString() @Length(1, limits.name) name!: string;
  @IsIn(planNames) plan!: Plan;
  @IsInt() @Min(2) @Max(8192) width!: number;
  @IsInt() @Min(2) @Max(8192) height!: number;
  @IsInt() @Min(1) @Max(1_000_000) rateNum!: number;
  @IsInt() @Min(1) @Max(100_000) rateDen!: number;
  @IsInt() @Min(1) @Max(100_000) length!: number;
  @IsInt() @Min(0) @Max(100_000) inFrame!: number;
  @orNull() @IsInt() @Min(0) @Max(100_000) outFrame!: number | null;
  @IsIn(blends) blend!: Blend;
}

class LayerRowBody implements LayerRow {
  @IsUUID() id!: string;
  @IsIn(['outgoing', 'incoming', 'passing']) role!: Role;
  @IsUUID() shotId!: string;
  @IsInt() @Min(0) @Max(100) position!: number;
  @IsInt() @Min(-frameLimit) @Max(frameLimit) offset!: number;
  @IsNumber({ maxDecimalPlaces: 2 }) @Min(25) @Max(800) speed!: number;
  @IsBoolean() reverse!: boolean;
  @orNull() @IsInt() @Min(0) @Max(frameLimit) holdFrom!: number | null;
  @orNull() @IsInt() @Min(0) @Max(frameLimit) trimIn!: number | null;
  @orNull() @IsInt() @Min(0) @Max(frameLimit) trimOut!: number | null;
  @IsBoolean() visible!: boolean;
  @IsBoolean() keeps!: boolean;
  @IsIn(['fill', 'fit', 'exact']) fit!: Fit;
  @IsBoolean() flip!: boolean;
  @IsNumber() @Min(-20_000) @Max(20_000) x!: number;
  @IsNumber() @Min(-20_000) @Max(20_000) y!: number;
  @IsNumber() @Min(1) @Max(2000) scale!: number;
  @IsNumber() @Min(-3600) @Max(3600) turn!: number;
  @IsNumber() @Min(0) @Max(100) steady!: number;
}

class MarkRowBody implements MarkRow {
  @IsUUID() id!: string;
  @IsInt() @Min(0) @Max(100_000) frame!: number;
  @IsIn(['mark', 'opens', 'closes']) kind!: MarkRow['kind'];
  @IsString() @Length(1, limits.markName) name!: string;
}

class EdgeSettingsBody implements EdgeSettings {
  @IsNumber() @Min(0) @Max(500) featherInside!: number;
  @IsNumber() @Min(0) @Max(500) featherOutside!: number;
  @IsNumber() @Min(-500) @Max(500) spread!: number;
  @IsNumber() @Min(0) @Max(500) roundness!: number;
  @IsArray()
  @ArrayMaxSize(limits.points)
  @IsNumber({}, { each: true })
  @Min(0, { each: true })
  @Max(10, { each: true })
  factors!: number[];
}

class OutlineRowBody extends EdgeSettingsBody implements OutlineRow {
  @IsUUID() id!: string;
  @IsUUID() layerId!: string;
  @orNull() @IsUUID() cutsLayerId!: string | null;
  @IsString() @Length(1, limits.name) name!: string;
  @IsIn(['seam', 'loop']) kind!: OutlineKind;
  @IsIn(['left', 'right']) sweptSide!: Side;
  @IsInt() @Min(0) @Max(1000) position!: number;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(limits.points)
  @ArrayUnique()
  @IsString({ each: true })
  @Matches(idPattern, { each: true })
  points!: string[];
  @IsIn(['add', 'take away', 'keep only']) combine!: Combine;
  @IsIn(['empty', 'full', 'hold']) beforeFirst!: Beyond;
  @IsIn(['empty', 'full', 'hold']) afterLast!: Beyond;
  @IsIn(outlineColours) colour!: OutlineColour;
  @IsBoolean() locked!: boolean;
  @IsBoolean() hidden!: boolean;
  @IsNumber() @Min(0) @Max(720) shutter!: number;
  @IsNumber() @Min(-720) @Max(720) phase!: number;
}

class EdgeRowBody extends EdgeSettingsBody implements EdgeRow {
  @Matches(idPattern) id!: string;
  @IsUUID() outlineId!: string;
  @IsInt() @Min(0) @Max(frameLimit) frame!: number;
  @IsIn(onwards) onward!: Onward;
}

class KeyRowBody implements KeyRow {
  @IsUUID() id!: string;
  @IsNumber() @Min(0) @Max(255) cb!: number;
  @IsNumber() @Min(0) @Max(255) cr!: number;
  @IsNumber() @Min(0) @Max(200) tolerance!: number;
  @IsNumber() @Min(0) @Max(200) softness!: number;
  @IsNumber() @Min(-40) @Max(40) grow!: number;
  @IsNumber() @Min(0) @Max(200) clean!: number;
  @IsNumber() @Min(0) @Max(100) spill!: number;
}

class PoseRowBody implements PoseRow {
  @Matches(idPattern) id!: string;
  @IsUUID() outlineId!: string;
  @IsInt() @Min(0) @Max(frameLimit) frame!: number;
  @IsIn(['by hand', 'carried', 'settled']) origin!: Origin;
  @IsIn(onwards) onward!: Onward;
  @IsCoordinates() coordinates!: number[];
}

const rowBodies = {
  crossing: CrossingRowBody,
  layer: LayerRowBody,
  outline: OutlineRowBody,
  pose: PoseRowBody,
  edge: EdgeRowBody,
  key: KeyRowBody,
  mark: MarkRowBody,
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
  @IsString() @Length(1, limits.label) label!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(limits.changes)
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
  @trimmed() @IsString() @Length(1, limits.name) name!: string;
  @IsIn(planNames) plan!: Plan;
  @IsUUID() outgoingShotId!: string;
  @IsUUID() incomingShotId!: string;
  @IsOptional() @IsUUID() passingShotId?: string;
}

/** What of a shot can be changed; what is left out stays. */
export class ShotBody {
  @IsOptional() @trimmed() @IsString() @Length(1, 120) name?: string;
  @IsOptional() @IsString() @MaxLength(2000) notes?: string;
  @IsOptional() @IsBoolean() keepSound?: boolean;
  /** Of stills only. */
  @IsOptional() @IsInt() @Min(1) @Max(240_000) rateNum?: number;
  @IsOptional() @IsInt() @Min(1) @Max(1001) rateDen?: number;
}

/** A file about to be sent in pieces; the fingerprint is the same when it is chosen again. */
export class UploadBody {
  @IsString() @Length(8, 400) fingerprint!: string;
  @IsString() name!: string;
  @IsInt() @Min(1) size!: number;
  @IsInt() @Min(1) @Max(240_000) rateNum!: number;
  @IsInt() @Min(1) @Max(1001) rateDen!: number;
}

class PartBody {
  @IsString() @Length(1, 200) name!: string;
  @IsInt() @Min(1) size!: number;
}

/** The pictures that an upload holds one after the other, or null for a single file. */
export class FinishBody {
  @orNull()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(mostStills)
  @ValidateNested({ each: true })
  @Type(() => PartBody)
  parts!: PartBody[] | null;
}

export class OffsetQuery {
  @Type(() => Number) @IsInt() @Min(0) offset!: number;
}

class CrosserBody implements Crosser {
  @IsIn(['across', 'opens']) kind!: Crosser['kind'];
  @IsInt() @Min(0) @Max(frameLimit) opens!: number;
  @IsInt() @Min(0) @Max(frameLimit) closes!: number;
  @IsIn([-1, 0, 1]) direction!: Crosser['direction'];
  @IsNumber() speed!: number;
  @IsNumber() @Min(0) @Max(1) top!: number;
  @IsNumber() @Min(0) @Max(1) bottom!: number;
  @IsNumber() @Min(-2) @Max(2) reach!: number;
}

/** A shot's movement as a browser has measured it. */
export class MotionBody implements ShotMotion {
  @IsFiniteNumbers() frames!: number[];
  @orNull() @IsObject() @ValidateNested() @Type(() => CrosserBody) crosser!: CrosserBody | null;
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
