/** Headers of the server's own: who answers, and the id of the send that it answers. */
const servedBy = "Served-By";
const sentId = "Sent-Id";

/** Whether an answer is our server's: a guest network, a proxy or a gateway answers too. */
export const ours = (answer: Response): boolean => answer.headers.get(servedBy) === "fairlap";

/** Says which send it is. */
export const sentAs = (id: string): Record<string, string> => ({ [sentId]: id });

/** Whether an answer is our server's, and of this very send. */
export const proves = (answer: Response, id: string): boolean => ours(answer) && answer.headers.get(sentId) === id;

/** Something between this device and the server answered in its place. */
export class Between extends Error {
  override name = "Between";
}
