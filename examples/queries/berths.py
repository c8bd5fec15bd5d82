"""Which berths of Skerry Line are free, by its data base."""

FREE_QUERY = """
    select b.number, b.quay
    from berths b
    left join sailings s on s.berth = b.number and s.day = :day
    where s.id is null and b.length >= :length
    order by b.number
"""


def free_berths(base, day, length):
    return base.query(FREE_QUERY, {"day": day, "length": length}).fetchall()


def closed_berths(base, quays):
    marks = ", ".join("?" for _ in quays)
    return base.query(f"""
        select number, note
        from berths -- closed ones alone
        where not open
            and quay in ({marks})
            and number not in (
                select berth
                from sailings
                where day = current_date
            )
    """, quays)


def close_berth(base, number, note):
    base.query(
        "update berths set open = false, note = ? where number = ?",
        (note, number)
    )
