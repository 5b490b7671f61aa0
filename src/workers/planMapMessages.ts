// What the plan's page and the worker that draws its map say to each other.
import type { PlanMap } from '../core/review/index.ts'

export type ToPlanMap =
  | { readonly type: 'open'; readonly projectUrl: string; readonly rowsUrl: string; readonly which: string; readonly whole: boolean }
  | { readonly type: 'show'; readonly whole: boolean }

export type FromPlanMap = { readonly type: 'map'; readonly map: PlanMap } | { readonly type: 'failed'; readonly message: string }
