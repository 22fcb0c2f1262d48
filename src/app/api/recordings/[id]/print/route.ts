import { PrintRecordingRequest } from '@/contract/hits';
import { answerPrint, printRecording } from '@/server/hits/print';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Prints a recording, or a stretch of it, with what is done to it; answers as an import does. */
export const POST = guard({ body: PrintRecordingRequest }, async ({ params, body }) =>
  answerPrint(workspace(), printRecording(workspace(), params.id ?? '', body, body), body.tab),
);
