//! What an alteration makes of what stands in a cell.

use super::{Alter, NewItem};
use crate::{
    access::Lens,
    fault::{Fault, FaultKind},
    formula::{Formula, Type},
    id::{FieldId, PersonId, RecordId, TableId},
    schema::{FieldDef, Kind, LONG_TEXT_LIMIT, Step},
    value::{Cell, Input, Item, Value, currency_decimals, plus_days},
    wording::ends,
};
use jiff::{Span, civil::Date, tz::TimeZone};
use rust_decimal::Decimal;

/// A value of days, so much later; what is none stays as it is.
///
/// # Errors
/// It would lie in a year that no date has.
pub(crate) fn moved_on(value: Value, by: Step, zone: &TimeZone) -> Result<Value, Fault> {
    let span = match by {
        Step::Days(days) => Span::new().try_days(i64::from(days)),
        Step::Months(months) => Span::new().try_months(i64::from(months)),
    };
    let span = span.map_err(|_| too_far())?;
    let later = |day: Date| day.checked_add(span).ok().and_then(|day| crate::value::plus_days(day, 0)).ok_or_else(too_far);
    Ok(match value {
        Value::Date(day) => Value::Date(later(day)?),
        Value::Range(from, to) => Value::Range(later(from)?, later(to)?),
        Value::Instant(at) => {
            // The same hour of the tracker's day, over a change of the clocks too.
            let there = at.to_zoned(zone.clone());
            Value::Instant(there.checked_add(span).map_err(|_| too_far())?.timestamp())
        }
        other => other,
    })
}

impl Alter {
    /// What goes into a field of a record, by what stands there now; nothing where it stays as it is.
    ///
    /// # Errors
    /// [`FaultKind::WrongKind`], where a field holds nothing of which this can be made.
    pub(crate) fn input(&self, lens: &Lens<'_>, table: TableId, record: RecordId, def: &FieldDef) -> Result<Option<Input>, Fault> {
        let reader = lens.reader(table, def.id);
        let now = reader.cell(record.row());
        let wrong = |what: &str| Err(Fault::new(FaultKind::WrongKind, format!("“{}” holds no {what}.", def.name)));
        let value = |value: Value| Ok(Some(Input::Value(value)));
        Ok(match self {
            Alter::Set(input) => Some(input.clone()),
            Alter::Empty => Some(Input::Value(Value::Empty)),
            Alter::Replace { find, with } => match now {
                _ if !is_text(&def.kind) => return wrong("text"),
                Cell::Text(text) if !find.is_empty() && text.contains(find.as_str()) => {
                    // What would be longer than any field holds is not even written out.
                    let more = text.matches(find.as_str()).count().saturating_mul(with.len());
                    if more.saturating_add(text.len()) > LONG_TEXT_LIMIT.saturating_mul(4) {
                        let message = format!("What “{}” would become is longer than a field holds.", def.name);
                        return Err(Fault::new(FaultKind::TooLong, message));
                    }
                    Some(Input::Text(text.replace(find.as_str(), with)))
                }
                _ => None,
            },
            Alter::Days(days) => match now {
                Cell::Date(day) => return value(Value::Date(later(day, *days)?)),
                Cell::Range(from, to) => return value(Value::Range(later(from, *days)?, later(to, *days)?)),
                Cell::Instant(at) => {
                    // The same hour of the tracker's day, over a change of the clocks too.
                    let there = at.to_zoned(lens.clock().zone.clone());
                    let moved = there.checked_add(Span::new().try_days(i64::from(*days)).map_err(|_| too_far())?).map_err(|_| too_far())?;
                    return value(Value::Instant(moved.timestamp()));
                }
                _ if !matches!(def.kind, Kind::Date | Kind::DateTime | Kind::Range) => return wrong("days"),
                _ => None,
            },
            Alter::Raise(share) => match now {
                Cell::Number(number) => {
                    let more = number.checked_mul(*share).and_then(|more| number.checked_add(more));
                    let more =
                        more.ok_or_else(|| Fault::new(FaultKind::WrongKind, format!("What “{}” would become is too large.", def.name)))?;
                    return value(Value::Number(rounded(&def.kind, more)));
                }
                _ if !def.kind.is_number() => return wrong("numbers"),
                _ => None,
            },
            Alter::From(field) => {
                let other = lens.ds.table(table).and_then(|home| home.def.field(*field)).filter(|_| lens.shows(table, record, *field));
                let other = other.ok_or_else(|| Fault::not_found("field"))?;
                let from = lens.reader(table, *field).cell(record.row());
                Some(match (from, other.kind.shows() == &def.kind) {
                    (Cell::Empty, _) => Input::Value(Value::Empty),
                    (same, true) => Input::Value(same.to_value()),
                    _ => Input::Text(lens.text_at(table, record, *field)),
                })
            }
            Alter::Now => match &def.kind {
                Kind::Date => return value(Value::Date(lens.clock().today())),
                Kind::DateTime => return value(Value::Instant(lens.clock().now)),
                _ => return wrong("day"),
            },
            Alter::Formula(formula) => return worked_out(lens, table, record, formula, def),
            Alter::Along(path) => return along(lens, table, record, path, def),
            Alter::AddOptions(more) => match (now, &def.kind) {
                (now, Kind::Choices { .. }) => {
                    let held = if let Cell::Choices(held) = now { held } else { &[] };
                    return value(Value::Choices(joined(held, more)));
                }
                _ => return wrong("several choices"),
            },
            Alter::AddPeople(more) => match (now, &def.kind) {
                (now, Kind::People) => {
                    let held = if let Cell::People(held) = now { held } else { &[] };
                    return value(Value::People(joined(held, more)));
                }
                _ => return wrong("several people"),
            },
            Alter::AddLinks(more) => match (now, &def.kind) {
                (now, Kind::Link(link)) if !link.one => {
                    let held = if let Cell::Links(held) = now { held } else { &[] };
                    return value(Value::Links(joined(held, more)));
                }
                _ => return wrong("links to several records"),
            },
            Alter::TakeOptions(less) => match (now, &def.kind) {
                (Cell::Choices(held), Kind::Choices { .. }) => return Ok(without(held, less).map(Value::Choices).map(Input::Value)),
                (_, Kind::Choices { .. }) => None,
                _ => return wrong("several choices"),
            },
            Alter::TakePeople(less) => match (now, &def.kind) {
                (Cell::People(held), Kind::People) => return Ok(without(held, less).map(Value::People).map(Input::Value)),
                (_, Kind::People) => None,
                _ => return wrong("several people"),
            },
            Alter::TakeLinks(less) => match (now, &def.kind) {
                (Cell::Links(held), Kind::Link(_)) => return Ok(without(held, less).map(Value::Links).map(Input::Value)),
                (_, Kind::Link(_)) => None,
                _ => return wrong("links"),
            },
            Alter::AddItem(text) => return add_item(now, def, Item { text: text.clone(), ..Item::default() }),
            Alter::AddTask(NewItem { text, person, along, days }) => {
                let found = person.or_else(|| somebody(lens, table, record, along));
                let due = days.and_then(|days| plus_days(lens.clock().today(), i64::from(days)));
                return add_item(now, def, Item { text: text.clone(), done: false, person: found, due });
            }
        })
    }
}

/// What stands at the end of a path of links, as a field takes it.
fn along(lens: &Lens<'_>, table: TableId, record: RecordId, path: &[FieldId], def: &FieldDef) -> Result<Option<Input>, Fault> {
    if path.is_empty() {
        return match def.kind {
            Kind::Link(link) if link.to == table => Ok(Some(Input::Value(Value::Links(vec![record])))),
            _ => Err(Fault::new(FaultKind::WrongKind, format!("“{}” does not link to this record.", def.name))),
        };
    }
    let (at, field, records) = ends(lens, table, path, record).ok_or_else(|| Fault::not_found("field"))?;
    let kind = lens.ds.shown_kind(at, field).map(|(_, kind)| kind).ok_or_else(|| Fault::not_found("field"))?;
    let records: Vec<RecordId> = records.into_iter().filter(|record| lens.shows(at, *record, field)).collect();
    let cells = || records.iter().map(|record| lens.reader(at, field).cell(record.row()).to_value());
    let linked = matches!((kind, &def.kind), (Kind::Link(from), Kind::Link(to)) if from.to == to.to);
    if linked {
        let all = cells().flat_map(|value| if let Value::Links(links) = value { links } else { Vec::new() });
        return Ok(Some(Input::Value(Value::Links(joined(&[], &all.collect::<Vec<_>>())))));
    }
    if let ([one], true) = (&records[..], kind == &def.kind) {
        return Ok(Some(Input::Value(lens.reader(at, field).cell(one.row()).to_value())));
    }
    let texts: Vec<String> = records.iter().map(|record| lens.text_at(at, *record, field)).filter(|text| !text.is_empty()).collect();
    Ok(Some(if texts.is_empty() { Input::Value(Value::Empty) } else { Input::Text(texts.join(", ")) }))
}

/// A checklist with one thing more to be done.
fn add_item(now: Cell<'_>, def: &FieldDef, item: Item) -> Result<Option<Input>, Fault> {
    if def.kind != Kind::Checklist {
        return Err(Fault::new(FaultKind::WrongKind, format!("“{}” holds no checklist.", def.name)));
    }
    let text = item.text.trim().to_owned();
    if text.is_empty() {
        return Err(Fault::new(FaultKind::Missing, format!("Say what is to be done, too, in “{}”.", def.name)));
    }
    let held = if let Cell::Checklist(held) = now { held } else { &[] };
    // What stands there and is not done yet need not be said twice.
    if held.iter().any(|known| !known.done && known.text == text) {
        return Ok(None);
    }
    Ok(Some(Input::Value(Value::Checklist(held.iter().cloned().chain([Item { text, ..item }]).collect()))))
}

/// Whoever stands at the end of a path from a record, where somebody does and is open to whoever asks.
fn somebody(lens: &Lens<'_>, table: TableId, record: RecordId, path: &[FieldId]) -> Option<PersonId> {
    let (at, field, records) = ends(lens, table, path, record).filter(|_| !path.is_empty())?;
    records.into_iter().filter(|one| lens.shows(at, *one, field)).find_map(|one| match lens.reader(at, field).cell(one.row()) {
        Cell::Person(id) => Some(id),
        Cell::People(ids) => ids.first().copied(),
        _ => None,
    })
}

fn is_text(kind: &Kind) -> bool {
    matches!(kind, Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone)
}

fn joined<T: Copy + PartialEq>(held: &[T], more: &[T]) -> Vec<T> {
    let new = more.iter().filter(|one| !held.contains(one));
    held.iter().chain(new).copied().collect()
}

/// What is left of these; nothing where none of them was there.
fn without<T: Copy + PartialEq>(held: &[T], less: &[T]) -> Option<Vec<T>> {
    held.iter().any(|one| less.contains(one)).then(|| held.iter().filter(|one| !less.contains(one)).copied().collect())
}

fn too_far() -> Fault {
    Fault::new(FaultKind::WrongKind, "That is beyond the days that a date can be.")
}

fn later(day: Date, days: i32) -> Result<Date, Fault> {
    crate::value::plus_days(day, i64::from(days)).ok_or_else(too_far)
}

/// As many digits as the field shows; of a rating, whole.
/// What a formula of a record gives for a field, of what is open to whoever asks.
fn worked_out(lens: &Lens<'_>, table: TableId, record: RecordId, formula: &Formula, def: &FieldDef) -> Result<Option<Input>, Fault> {
    let refused = |message: String| Err(Fault::new(FaultKind::WrongKind, message));
    let name = &def.name;
    let as_text = !(def.kind.is_number() || matches!(def.kind, Kind::YesNo | Kind::Date | Kind::DateTime | Kind::Text { .. }));
    let text = Kind::of_type(Type::Text);
    let Some(value) = lens.worked_out(formula, table, record, if as_text { &text } else { &def.kind }) else {
        return refused(format!("The formula for “{name}” draws on something that is not open to it."));
    };
    Ok(Some(match value {
        Value::Error(error) => return refused(format!("The formula for “{name}” gives {}: {}.", error.sign(), error.words())),
        Value::Number(number) => Input::Value(Value::Number(rounded(&def.kind, number))),
        Value::Text(text) => Input::Text(text.to_string()),
        other => Input::Value(other),
    }))
}

fn rounded(kind: &Kind, number: Decimal) -> Decimal {
    let places = match kind {
        Kind::Number { decimals, .. } => *decimals,
        Kind::Money { currency } => currency_decimals(currency),
        // A share is shown a hundredfold.
        Kind::Percent { decimals } => decimals.saturating_add(2),
        _ => 0,
    };
    number.round_dp_with_strategy(places, rust_decimal::RoundingStrategy::MidpointAwayFromZero)
}
