const length = () => { return 40; };
const width = () => {
  return 3;
};
