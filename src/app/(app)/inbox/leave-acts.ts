import type { LeaveActs } from '@/ui/inbox/leave-desk';
import { endPauseAction, leaveAction, pauseAction, undoLeaveAction } from './actions';

export const LEAVE_ACTS: LeaveActs = {
  leave: leaveAction,
  undoLeave: undoLeaveAction,
  pause: pauseAction,
  endPause: endPauseAction,
};
