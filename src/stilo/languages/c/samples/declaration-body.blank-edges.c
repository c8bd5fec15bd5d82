struct berth {

	int lane;

};
