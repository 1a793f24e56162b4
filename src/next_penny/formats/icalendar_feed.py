"""A calendar as other programs read it (RFC 5545): each item an event of its own, all day."""

from collections.abc import Iterable
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Alarm, Calendar, Event

from next_penny.core.forecast.reminders import CalendarItem

# At nine in the morning of the day on which it rings.
_RINGS_AT = timedelta(hours=9)
_LOOKED_AT_EVERY = timedelta(hours=6)


def calendar_feed(name: str, items: Iterable[CalendarItem], today: date) -> bytes:
    """The feed of a household of some name, as it is today."""
    calendar = Calendar()
    calendar.add("prodid", "-//Next Penny//Household calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("name", name)
    calendar.add("refresh-interval", _LOOKED_AT_EVERY, parameters={"value": "DURATION"})
    for item in items:
        calendar.add_component(_event(item, today))
    return bytes(calendar.to_ical())


def _event(item: CalendarItem, today: date) -> Event:
    event = Event()
    event.add("uid", item.uid)
    event.add("dtstamp", datetime.combine(today, time(), UTC))
    event.add("dtstart", item.day)
    event.add("dtend", item.day + timedelta(days=1))
    event.add("summary", item.title)
    event.add("description", item.text)
    event.add("transp", "TRANSPARENT")
    if item.alarm_days is not None:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", item.title)
        alarm.add("trigger", _RINGS_AT - timedelta(days=item.alarm_days))
        event.add_component(alarm)
    return event
