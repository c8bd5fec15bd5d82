while sailing: wait()
