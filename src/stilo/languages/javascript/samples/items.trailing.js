ramps = [1, 2, 3,];
harbours = ["Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sound",];
isles = ["Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sounds"];
rows = [
1, 2,
3];
isles = ["Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sound", "Puffin Stack"];
holes = [1,,];
