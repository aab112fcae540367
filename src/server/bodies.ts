import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBase64,
  IsBoolean,
  IsDefined,
  IsDivisibleBy,
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
import { tableNames } from '@/core/document/document';
import { limits } from '@/core/model/limits';
import { type Table } from '@/core/document/tables';
import { crossingKinds, type FoundCrossing } from '@/core/find/crossings';
import type { Stretch } from '@/core/actions/first-stretch';
import { type Plan, planNames, type Role } from '@/core/model/choices';
import type { Crosser, ShotMotion } from '@/core/model/shot';
import { mostStills } from '@/footage/stills';
import {
  type ExportFormat,
  type ExportQuality,
  exportQualityNames,
  exportFormatNames,
  type ExportSoundCodec,
  exportSounds,
} from '@/core/formats/export-formats';
import { longestPattern } from '@/core/formats/export-name';
import type { LayerTiming, Timing } from '@/core/formats/timeline-taken';
import { Problem } from './problem';
import { idPattern } from './row-bodies';
import { checked } from './validate';

const frameLimit = 10_000_000;

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
class RowChangeBody {
  @IsIn(tableNames) table!: Table;
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
export class CommitBody {
  @IsUUID() requestId!: string;
  @IsInt() @Min(0) baseRevision!: number;
  @IsIn(['do', 'undo', 'redo']) kind!: 'do' | 'undo' | 'redo';
  @ValidateIf((step: CommitBody) => step.kind === 'do')
  @IsObject()
  @ValidateNested()
  @Type(() => EditBody)
  edit?: EditBody;
  @ValidateIf((step: CommitBody) => step.kind !== 'do') @IsUUID() editId?: string;
}

const isPlain = (value: unknown): value is object => typeof value === 'object' && value !== null;

/**
 * A commit as it came over the wire, checked but for its rows. Rows may hold many numbers: they are not copied.
 *
 * @throws Problem 400 that names the first field at fault.
 */
export function validatedCommit(value: unknown): CommitBody {
  if (!isPlain(value) || Array.isArray(value)) throw new Problem(400, 'An object was expected.');
  const commit = Object.assign(new CommitBody(), value);
  if (isPlain(commit.edit)) {
    commit.edit = Object.assign(new EditBody(), commit.edit);
    if (Array.isArray(commit.edit.changes))
      commit.edit.changes = commit.edit.changes.map((change: unknown) =>
        isPlain(change) ? Object.assign(new RowChangeBody(), change) : (change as RowChangeBody),
      );
  }
  return checked(commit);
}

/** How a layer is lined up from the start. */
class LayerTimingBody implements LayerTiming {
  @IsInt() @Min(-frameLimit) @Max(frameLimit) offset!: number;
  @IsNumber() @Min(25) @Max(800) speed!: number;
  @IsBoolean() reverse!: boolean;
  @ValidateIf((_, value) => value !== null) @IsInt() @Min(0) @Max(frameLimit) holdFrom!: number | null;
}

class TimingEdgeBody {
  @IsInt() @Min(0) @Max(limits.frames) opens!: number;
  @IsInt() @Min(0) @Max(limits.frames) closes!: number;
}

/** How a crossing lies in time from the start, as a timeline has it. */
class TimingBody implements Timing {
  @IsDefined() @ValidateNested() @Type(() => LayerTimingBody) outgoing!: LayerTimingBody;
  @IsDefined() @ValidateNested() @Type(() => LayerTimingBody) incoming!: LayerTimingBody;
  @orNull() @IsInt() @Min(1) @Max(limits.frames) length!: number | null;
  @orNull() @IsInt() @Min(0) @Max(limits.frames) cut!: number | null;
  @orNull() @IsDefined() @ValidateNested() @Type(() => TimingEdgeBody) edge!: TimingEdgeBody | null;
}

class RateBody {
  @IsInt() @Min(1) @Max(1_000_000) num!: number;
  @IsInt() @Min(1) @Max(100_000) den!: number;
}

class SizeBody {
  @IsInt() @Min(2) @Max(8192) @IsDivisibleBy(2) width!: number;
  @IsInt() @Min(2) @Max(8192) @IsDivisibleBy(2) height!: number;
}

class StretchBody implements Stretch {
  @IsInt() @Min(0) @Max(frameLimit) first!: number;
  @IsInt() @Min(0) @Max(frameLimit) last!: number;
}

/** How much of each shot a crossing takes; left out: all of it. */
class StretchesBody implements Partial<Record<Role, Stretch>> {
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => StretchBody) outgoing?: StretchBody;
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => StretchBody) incoming?: StretchBody;
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => StretchBody) passing?: StretchBody;
}

export class NewCrossingBody {
  @trimmed() @IsString() @Length(1, limits.name) name!: string;
  @IsIn(planNames) plan!: Plan;
  @IsUUID() outgoingShotId!: string;
  @IsUUID() incomingShotId!: string;
  @IsOptional() @IsUUID() passingShotId?: string;
  @IsOptional() @ValidateNested() @Type(() => TimingBody) timing?: TimingBody;
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => StretchesBody) stretches?: StretchesBody;
  /** Rate and size of the result, both numbers of each; left out: proposed by the shots. */
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => RateBody) rate?: RateBody;
  @IsOptional() @IsDefined() @ValidateNested() @Type(() => SizeBody) size?: SizeBody;
}

/** The fields of a shot that can be changed; omitted ones stay. */
export class ShotBody {
  @IsOptional() @trimmed() @IsString() @Length(1, 120) name?: string;
  @IsOptional() @IsString() @MaxLength(2000) notes?: string;
  @IsOptional() @IsBoolean() keepSound?: boolean;
  /** Of its first frame; empty: none. */
  @IsOptional() @IsString() @MaxLength(20) timecode?: string;
  /** Of stills only. */
  @IsOptional() @IsInt() @Min(1) @Max(240_000) rateNum?: number;
  @IsOptional() @IsInt() @Min(1) @Max(1001) rateDen?: number;
}

/** Whether a shot is deleted though undoing somewhere needs it. */
export class DeleteShotQuery {
  @IsOptional() @IsIn(['keep', 'let go']) history?: 'keep' | 'let go';
}

export class SoundBody {
  @trimmed() @IsString() @Length(1, 120) name!: string;
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
  @IsOptional() @IsFiniteNumbers() looks?: number[];
  @IsOptional() @IsFiniteNumbers() cuts?: number[];
}

class FoundCrossingBody implements FoundCrossing {
  @IsIn(crossingKinds) kind!: FoundCrossing['kind'];
  @IsInt() @Min(0) @Max(frameLimit) opens!: number;
  @IsInt() @Min(0) @Max(frameLimit) closes!: number;
  @IsIn([-1, 0, 1]) direction!: FoundCrossing['direction'];
  @IsNumber() @Min(0) speed!: number;
  @IsNumber() @Min(0) @Max(1) covers!: number;
  @IsNumber() @Min(0) unsteady!: number;
  @IsNumber() @Min(0) @Max(1) clear!: number;
}

/** What a browser has found in a long take. */
export class FoundBody {
  @IsArray()
  @ArrayMaxSize(2000)
  @ValidateNested({ each: true })
  @Type(() => FoundCrossingBody)
  found!: FoundCrossingBody[];
}

/** What an export is of, before its first piece comes. */
export class ExportBody {
  @IsUUID() crossingId!: string;
  @IsInt() @Min(0) revision!: number;
  @IsIn(exportFormatNames) format!: ExportFormat;
  @IsInt() @Min(1) @Max(1_000_000) frameCount!: number;
  @IsIn(exportSounds) sound!: ExportSoundCodec;
  @IsInt() @Min(1) @Max(8192) width!: number;
  @IsInt() @Min(1) @Max(8192) height!: number;
  @IsInt() @Min(1) @Max(1_000_000) rateNum!: number;
  @IsInt() @Min(1) @Max(100_000) rateDen!: number;
  @IsInt() @Min(-1_000_000) @Max(10_000_000) firstFrame!: number;
  @IsOptional() @IsString() @MaxLength(limits.name) shotName!: string | null;
  /** Of its first frame. */
  @IsOptional() @Matches(/^\d\d:\d\d:\d\d[:;]\d{2,3}$/) timecode?: string | null;
  /** How finely it is encoded, where the server does that. */
  @IsOptional() @IsIn(exportQualityNames) quality?: ExportQuality;
}

/** What a person sets for all crossings. */
export class SettingsBody {
  @IsString() @Length(1, longestPattern) exportName!: string;
}

/** A pattern for one file's name, in place of the one that is set. */
export class ExportFileQuery {
  @IsOptional() @IsString() @Length(1, longestPattern) name?: string;
}

export class ExportFinishedBody {
  /** A small WebP, base64. */
  @IsOptional() @IsBase64() @MaxLength(100_000) picture?: string | null;
}

export class DeleteExportQuery {
  @IsOptional() @IsIn(['under-way']) of?: 'under-way';
}

export class PositionQuery {
  @Type(() => Number) @IsInt() @Min(0) @Max(Number.MAX_SAFE_INTEGER) position!: number;
  @IsOptional() @IsIn(['file', 'sound']) part?: 'file' | 'sound';
}

export class ParcelQuery {
  @IsOptional() @IsIn(['whole', 'used', 'none']) footage?: 'whole' | 'used' | 'none';
  @IsOptional() @Type(() => Number) @IsInt() @Min(0) @Max(100_000) handles?: number;
  @IsOptional() @IsIn(['all']) history?: 'all';
}

export class SinceQuery {
  @Type(() => Number) @IsInt() @Min(0) since!: number;
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
