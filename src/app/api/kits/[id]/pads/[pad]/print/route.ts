import { PrintPadRequest } from '@/contract/hits';
import { answerPrint } from '@/server/hits/print';
import { printPad } from '@/server/hits/print-pad';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Prints a pad as a stroke of it sounds to a hit of its own; answers as an import does. */
export const POST = guard({ body: PrintPadRequest }, async ({ params, body }) =>
  answerPrint(workspace(), printPad(workspace(), params.id ?? '', params.pad ?? '', body), body.tab),
);
