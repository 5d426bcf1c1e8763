import { useQuery } from "@tanstack/react-query";

/** Share of the room from which it is said that it runs out. */
const scarce = 0.8;

/** Megabytes that the app holds on this device and may hold, where the browser tells. */
export function useRoom(): { used: number; of: number; scarce: boolean } | undefined {
  const { data } = useQuery({
    queryKey: ["room"],
    queryFn: async () => (await navigator.storage?.estimate?.()) ?? null,
    staleTime: 0,
  });
  if (!data?.quota) return undefined;
  const { usage = 0, quota } = data;
  return { used: Math.round(usage / 1e6), of: Math.round(quota / 1e6), scarce: usage > scarce * quota };
}

/** Asks the browser to clear nothing of ours by itself. */
export const askToStay = (): void => {
  navigator.storage?.persist?.().catch(() => undefined);
};
