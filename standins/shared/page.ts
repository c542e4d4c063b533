const escapes: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };

/** Text within HTML. */
export const html = (text: unknown): string => String(text ?? "").replace(/[&<>"']/g, (sign) => escapes[sign] ?? sign);

/** A plain page of a device or a service: readable on a phone, nothing but HTML. */
export function page(title: string, body: string): string {
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${html(title)}</title><style>body{font:16px/1.5 sans-serif;margin:1rem auto;max-width:40rem;padding:0 1rem;color:#1b2430;background:#fff}
label{display:block;margin:.75rem 0 .25rem}input,select,button{font:inherit;padding:.6rem;min-height:44px;box-sizing:border-box}
input,select{width:100%;border:1px solid #5b6472}button{margin:.75rem .5rem 0 0}td,th{text-align:left;padding:.25rem .75rem .25rem 0}.code{font:600 2rem monospace}</style>
</head><body><h1>${html(title)}</h1>${body}</body></html>`;
}
