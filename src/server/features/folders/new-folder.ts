/** What the route of folders takes. */
import { z } from 'zod';

export const FolderChange = z.object({
  of: z.union([
    z.object({ code: z.string().max(100) }),
    z.object({ lot: z.string().min(1).max(200) }),
  ]),
  isOpen: z.boolean(),
});
