const board = css`
.berth { color: navy; margin: 0 }
`;
const rows = query(`
.berth { color: navy; margin: 0 }
`);
