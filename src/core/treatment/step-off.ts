/** Steps with one of them switched off. */
export function withStepOff<S extends { readonly id: string; readonly active: boolean }>(
  steps: readonly S[],
  stepId: string,
): S[] {
  return steps.map((step) => (step.id === stepId ? { ...step, active: false } : step));
}
