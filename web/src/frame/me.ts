import { useQueryClient } from "@tanstack/react-query";
import { api, type Me } from "../api/client";
import { wipeAnswers } from "../kept/answers";

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
  const { id } = useMe();
  return () =>
    out.mutate(
      {},
      {
        // What was fetched for the day goes; what was made here and waits stays, for its maker alone.
        onSuccess: () => wipeAnswers(id).then(() => queries.resetQueries()),
      },
    );
}
