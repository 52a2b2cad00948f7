/** What a visitor sees who follows a link that does not exist: plain, without a script, and of no use to a crawler. */
export const NOT_FOUND_PAGE = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex">
<title>No such link</title>
<style>body{margin:0;min-height:100vh;display:grid;place-content:center;font:16px/1.5 system-ui,sans-serif;color:#15211C;background:#F2F4F1;padding:24px}
h1{font-size:22px;margin:0 0 8px}p{margin:0;max-width:34em;color:#5C6B64}</style></head>
<body><main><h1>This link does not lead anywhere</h1>
<p>Its code is not known here. A letter may be missing or wrong: codes have eight characters, and capitals count. Ask whoever gave you the link for the whole address.</p></main></body></html>
`;

export const ROBOTS = 'User-agent: *\nDisallow: /\n';

/** One transparent pixel (GIF89a). */
export const PIXEL = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
