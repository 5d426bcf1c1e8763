/** How practitioners decide when to clean, the default first. */
export const schools = ["rise", "differential", "share", "fixed", "calendar"] as const;
