import { useQueryClient } from "@tanstack/react-query";
import { api, type Me } from "../api/client";

/** Who is signed in; asked only inside the shell, which stands for nobody else. */
export function useMe(): Me {
  const { data } = api.useQuery("get", "/api/v1/me");
  if (!data?.me) throw new Error("nobody is signed in");
  return data.me;
}

/** The way out. */
export function useSignOut(): () => void {
  const queries = useQueryClient();
  const out = api.useMutation("post", "/api/v1/sign-out");
  // What was fetched for the day goes with the answer that nobody is here (kept/answers); what
  // was made here and waits stays, for its maker alone.
  return () => out.mutate({}, { onSuccess: () => queries.resetQueries() });
}
