// Says at once where the day leads, as Today last showed it, until the view is drawn: a phone that
// starts from its own store takes a second for that. What the server wrote into the page stands.
{
  let kept = null;
  try {
    kept = JSON.parse(localStorage.getItem("fairlap.first") ?? "null");
  } catch {
    // The store is shut: nothing is known yet.
  }
  const root = document.querySelector("#root");
  const today = new Date().toLocaleDateString("sv"); // like 2026-11-24
  if (kept?.day === today && location.pathname === "/" && root && !root.querySelector(".first")) {
    const first = document.createElement("div");
    first.className = "first";
    for (const [kind, text] of [
      ["p", kept.head],
      ["b", kept.text],
    ]) {
      first.append(Object.assign(document.createElement(kind), { textContent: text }));
    }
    root.append(first);
  }
}
