namespace quay {


int lane;


int berth;

}
