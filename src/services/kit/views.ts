/** Rows as the API gives them: snake case, ISO instants, null for unknown. */

export const iso = (at: Date | null): string | null => at?.toISOString() ?? null;
