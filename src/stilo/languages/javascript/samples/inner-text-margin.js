function board() {
  const rules = css`
.berth {
  color: navy;
}
`;
}
