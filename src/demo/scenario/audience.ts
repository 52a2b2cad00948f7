/** Keywords of the search-ads buyers; they differ truly in how they convert. */
export const KEYWORDS: { word: string; weight: number; quality: number }[] = [
  { word: 'ash glaze', weight: 22, quality: 2.4 },
  { word: 'glaze subscription', weight: 14, quality: 1.9 },
  { word: 'celadon glaze', weight: 16, quality: 1 },
  { word: 'pottery gift', weight: 24, quality: 0.45 },
  { word: 'cheap clay', weight: 18, quality: 0.12 },
  { word: 'kiln 60 litre', weight: 12, quality: 1.6 },
  { word: 'raku class', weight: 10, quality: 1.4 },
];

export const MATCHES = ['exact', 'phrase', 'broad'];

/** What a source fills in, where it is not a keyword or an ID. */
export const FILLED: Record<string, readonly string[]> = {
  '{{match}}': MATCHES,
  '{{screen}}': ['phone', 'phone', 'desktop', 'tablet'],
  '{{adgroup}}': ['glaze-nl', 'glaze-be', 'brand', 'gifts'],
  '{{bid}}': ['0.18', '0.24', '0.31', '0.42'],
  '[POST]': ['p812', 'p815', 'p820'],
  '[AUDIENCE]': ['makers-25-44', 'makers-45-64', 'lookalike'],
  '[PLACE]': ['feed', 'story'],
  '%%ISSUE%%': ['2026-40', '2026-42', '2026-44', '2026-46'],
  '%%LIST%%': ['weekend', 'weekly'],
};

/** Addresses of hosting companies, as the program's manager was sent them. */
export const HOSTING_RANGES = '# Hosting companies\n203.0.113.64/28\n198.51.100.200/30\n2001:db8:dead::/48\n';

/** Telephone numbers of the exchange: kept for fiction. */
export const DIRECTORY_NUMBER = '+15550110';

export const VISIT_NUMBERS = ['+15550120', '+15550121', '+15550122', '+15550123', '+15550124', '+15550125'];

export const AGENTS = [
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Mobile/15E148 Safari/604.1',
  'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
  'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Safari/605.1.15',
  'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
];

export const BOT_AGENTS = [
  'linkchecker/10.2',
  'Mozilla/5.0 (compatible; ExampleBot/2.1; +https://bot.example/about)',
  'python-requests/2.32',
];

export const REFERRERS = [
  'https://slowwheel.example/review',
  'https://quillsearch.example/',
  'https://plazafeed.example/p/812',
  'https://lanternpost.example/i/44',
];
