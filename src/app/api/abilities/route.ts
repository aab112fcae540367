import { exportFormatNames, formatOf } from '@/core/formats/export-formats';
import { hasFfmpeg } from '@/server/ffmpeg';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

/** What this Kiv can do: whether there is ffmpeg, and the formats that it writes, by the names that the command asks for. */
export const GET = () =>
  respond(async () => ({
    ffmpeg: await hasFfmpeg(),
    formats: exportFormatNames.map((format) => {
      const { command, label, says, extension } = formatOf(format);
      return { format, command, label, says, extension };
    }),
  }));
