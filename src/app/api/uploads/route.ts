import { UploadBody, validatedFileName } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { beginUpload } from '@/server/uploads';
import { validated } from '@/server/validate';

export const POST = (request: Request) =>
  respond(async () => {
    const body = validated(UploadBody, await readJson(request));
    validatedFileName(body.name);
    return beginUpload(body);
  });
