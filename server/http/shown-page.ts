/** What a page that holds evidence may do: be looked at and printed. It runs nothing, and stands in no other page. */
export const SHOWN_PAGE =
  "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-modals; frame-ancestors 'none'";
