import { unreachable } from '../text/index.js';
import type { Workspace, WorkspaceFiles } from '../workspace/index.js';
import { applyPolicyEdit } from './apply-policy-edit.js';
import { applyRequirementEdit } from './apply-requirement-edit.js';
import { applyRuleEdit } from './apply-rule-edit.js';
import { applySharedEdit } from './apply-shared-edit.js';
import { applyTakeBack } from './apply-take-back.js';
import { applyUpgrade } from './apply-upgrade.js';
import type { Edit } from '../edit/index.js';
import { EditedFiles, type EditOutcome } from './edited-files.js';

/**
 * The files with one edit made, in place: what it is not about stays as it is.
 * @param workspace read from these files
 */
export function applyEdit(workspace: Workspace, files: WorkspaceFiles, edit: Edit): EditOutcome {
  const edited = new EditedFiles(workspace, files);
  switch (edit.kind) {
    case 'level':
    case 'set-shared':
    case 'take-shared':
    case 'retire-shared':
    case 'make-set':
    case 'dissolve-set':
      applySharedEdit(edited, edit);
      break;
    case 'set-range':
    case 'add-requirement':
    case 'remove-requirement':
    case 'change-kind':
    case 'believe-use':
      applyRequirementEdit(edited, edit);
      break;
    case 'everywhere':
    case 'not-everywhere':
    case 'pin':
    case 'unpin':
    case 'grant-exception':
    case 'end-exception':
    case 'answer-otherwise':
    case 'end-otherwise':
    case 'mute':
    case 'unmute':
    case 'accept-terms':
    case 'end-acceptance':
      applyRuleEdit(edited, edit);
      break;
    case 'upgrade':
      applyUpgrade(edited, edit);
      break;
    case 'set-policy':
    case 'set-platform':
    case 'set-standing':
    case 'end-standing':
      applyPolicyEdit(edited, edit);
      break;
    case 'take-back':
      applyTakeBack(edited, edit);
      break;
    // These are about answers alone.
    case 'refresh':
    case 'bring-up':
    case 're-pick':
    case 'take-integrity':
      break;
    default:
      return unreachable(edit);
  }
  return edited.outcome;
}
