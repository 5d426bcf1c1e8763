/** What of a drawing's style is asked of its page, and so must go with it. */
const carried = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "opacity",
  "fill-opacity",
  "font-family",
  "font-size",
  "font-weight",
];

/** Twice the pixels of the screen, so that it is sharp on paper. */
const scale = 2;

/** A drawing as a picture, in the colours that the page shows it in. Throws where the browser can't draw. */
export async function pngOf(svg: SVGSVGElement): Promise<Blob> {
  const { width, height } = svg.getBoundingClientRect();
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const from = [svg, ...svg.querySelectorAll<SVGElement>("*")];
  const to = [copy, ...copy.querySelectorAll<SVGElement>("*")];
  for (const [i, e] of from.entries()) {
    const style = getComputedStyle(e);
    for (const p of carried) to[i].style.setProperty(p, style.getPropertyValue(p));
  }
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(new XMLSerializer().serializeToString(copy))}`;
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(width * scale);
  canvas.height = Math.round(height * scale);
  const pen = canvas.getContext("2d");
  if (!pen) throw new Error("this browser does not draw");
  pen.fillStyle = getComputedStyle(document.body).backgroundColor;
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(picture, 0, 0, canvas.width, canvas.height);
  return new Promise((done, fail) =>
    canvas.toBlob((b) => (b ? done(b) : fail(new Error("no picture came"))), "image/png"),
  );
}
