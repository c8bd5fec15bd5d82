import b2 from "b2";
import B10 from "B10";
import a from "a";
import C from "C";
import SKY from "SKY";
