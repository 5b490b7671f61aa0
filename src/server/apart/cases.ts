// What people ask for that takes inference, a derivation or a plan: run in a thread of the project (`thread.ts`), never in the web server's own.
// Their first argument says whose they are; arguments and answers are copied from thread to thread.
import { previewSettings, readCodeFolder, writeCodeFolder } from '../codeFolder.ts'
import { adopt, checkPlan, mayApply, overlook, readEnvironments, repairScript, watch } from '../environments.ts'
import { findText } from '../find.ts'
import { makeFirst, makeHead, makeReady, readFrame } from '../first.ts'
import { gateItems, readGate, sealRevision, shut, takeProposals } from '../gate.ts'
import { readSourceReading } from '../history.ts'
import { lookAtRows } from '../looks.ts'
import { notationArchive, notationFile, takeNotation } from '../notation.ts'
import { codeArchive, readCode } from '../outputs.ts'
import { planMapBytes } from '../planMap.ts'
import { editStep, keepPlan, keptPlans, planArchive, planText, previewEdits, readChangeChoices, readPlanDesk, stepRows } from '../plans.ts'
import { entryChanges, reviewReport } from '../reports.ts'
import { appendEntries, findFindingsBytes, takeRowEvidence } from '../review.ts'
import { openScript } from '../scripts.ts'
import { readTrialDesk, tryRows } from '../trials.ts'

export const cases = {
  adopt,
  appendEntries,
  checkPlan,
  codeArchive,
  editStep,
  entryChanges,
  findFindingsBytes,
  findText,
  gateItems,
  keepPlan,
  keptPlans,
  lookAtRows,
  makeFirst,
  makeHead,
  makeReady,
  mayApply,
  notationArchive,
  notationFile,
  openScript,
  overlook,
  planArchive,
  planMapBytes,
  planText,
  previewEdits,
  previewSettings,
  readChangeChoices,
  readCode,
  readCodeFolder,
  readEnvironments,
  readFrame,
  readGate,
  readPlanDesk,
  readSourceReading,
  readTrialDesk,
  repairScript,
  reviewReport,
  sealRevision,
  shut,
  stepRows,
  takeNotation,
  takeProposals,
  takeRowEvidence,
  tryRows,
  watch,
  writeCodeFolder,
} as const

export type Cases = typeof cases
