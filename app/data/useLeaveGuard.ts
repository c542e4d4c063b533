/** Only the web target has pages that can be left with something unsaved. */
export function useLeaveGuard(_unsaved: boolean): void {}
