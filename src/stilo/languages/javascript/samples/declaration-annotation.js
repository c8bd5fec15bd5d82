@quay class Berth {}
