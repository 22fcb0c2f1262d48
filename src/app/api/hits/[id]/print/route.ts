import { PrintRequest } from '@/contract/hits';
import { answerPrint, printHit } from '@/server/hits/print';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Prints a hit as it sounds to a recording of its own; answers as an import does. */
export const POST = guard({ body: PrintRequest }, async ({ params, body }) =>
  answerPrint(workspace(), printHit(workspace(), params.id ?? '', body), body.tab),
);
