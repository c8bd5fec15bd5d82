QUAY_API int (quay_length)(struct quay *quay);
QUAY_API struct berth *(quay_berth)(struct quay *quay, int number);
QUAY_API berth_number (quay_free)(struct quay *quay);
