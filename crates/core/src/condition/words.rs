//! Conditions written out. The interface never composes a sentence; it shows these.

use super::{Check, Comparison, Condition, Quantity, Test, TextMatch, When, Who};
use crate::{
    access::Lens,
    id::{FieldId, TableId},
    schema::{Kind, within_sentence},
    value::{Customs, list_text},
};

impl Condition {
    /// The whole condition in words, as it stands after *where*. A nested *any of* is put in brackets.
    pub fn to_sentence(&self, lens: &Lens<'_>, table: TableId) -> String {
        match self {
            Condition::Test(test) => test.to_sentence(lens, table),
            Condition::All(parts) => join(parts, "and", lens, table),
            Condition::Any(parts) => join(parts, "or", lens, table),
        }
    }
}

fn join(parts: &[Condition], word: &str, lens: &Lens<'_>, table: TableId) -> String {
    let written: Vec<String> = parts
        .iter()
        .map(|part| {
            let words = part.to_sentence(lens, table);
            let inner = matches!(part, Condition::All(p) | Condition::Any(p) if p.len() > 1);
            if inner && parts.len() > 1 { format!("({words})") } else { words }
        })
        .filter(|words| !words.is_empty())
        .collect();
    written.join(&format!(" {word} "))
}

impl Test {
    /// One test in words: *severity is blocked or dangerous*.
    pub fn to_sentence(&self, lens: &Lens<'_>, table: TableId) -> String {
        let subject = path_words(lens, table, &self.path);
        let through_many = self.follows_many(lens, table);
        let subject = match self.of {
            _ if !through_many => subject,
            Quantity::Any => format!("any {subject}"),
            Quantity::All => format!("every {subject}"),
            Quantity::None => format!("no {subject}"),
        };
        let Ok((home, field)) = lens.ds.walk(table, &self.path) else { return format!("{subject} (a field that is not there any more)") };
        format!("{subject} {}", self.check.words(lens, home, field))
    }

    fn follows_many(&self, lens: &Lens<'_>, table: TableId) -> bool {
        let mut at = table;
        self.path.split_last().is_some_and(|(_, links)| {
            links.iter().any(|field| {
                let Some(link) = lens.ds.table(at).and_then(|t| t.link(*field)) else { return false };
                at = link.to;
                !link.one
            })
        })
    }
}

/// A path of links and a field in words: *section's district's warden*.
pub(crate) fn path_words(lens: &Lens<'_>, table: TableId, path: &[FieldId]) -> String {
    let mut at = Some(table);
    let mut words = Vec::new();
    for field in path {
        let Some(def) = at.and_then(|t| lens.ds.table(t)).and_then(|t| t.def.field(*field)) else {
            words.push("a field that is gone".to_owned());
            break;
        };
        words.push(within_sentence(&def.name));
        at = match def.kind {
            Kind::Link(link) => Some(link.to),
            _ => None,
        };
    }
    let (Some(last), owners) = (words.pop(), words) else { return String::new() };
    let owned = owners.iter().map(|owner| format!("{owner}{} ", if owner.ends_with('s') { "’" } else { "’s" }));
    owned.collect::<String>() + &last
}

impl Check {
    fn words(&self, lens: &Lens<'_>, table: TableId, field: FieldId) -> String {
        let shown = lens.ds.shown_kind(table, field).map(|(_, kind)| kind);
        let customs = lens.clock.customs();
        let is = |not: &bool| if *not { "is not" } else { "is" };
        match self {
            Check::Empty => "is empty".into(),
            Check::Filled => "is filled in".into(),
            Check::Text { how, text } => {
                let how = match how {
                    TextMatch::Contains => "contains",
                    TextMatch::Lacks => "does not contain",
                    TextMatch::Is => "is",
                    TextMatch::IsNot => "is not",
                    TextMatch::Starts => "starts with",
                };
                format!("{how} “{}”", text.trim())
            }
            Check::Number { how, than } => format!("{} {}", number_comparison(*how), number(*than, shown, customs)),
            Check::Between { least, most } => format!("is from {} to {}", number(*least, shown, customs), number(*most, shown, customs)),
            Check::Day { how, than } => day_words(*how, *than, customs),
            Check::Within { period } => format!("is {}", period.words()),
            Check::Older { days } => format!("is more than {days} days ago"),
            Check::Option { not, any } => {
                let options = shown.map_or(&[][..], Kind::options);
                let names: Vec<&str> = options.iter().filter(|o| any.contains(&o.id)).map(|o| o.name.as_str()).collect();
                format!("{} {}", is(not), list_text(&names, "or"))
            }
            Check::Person { not, any } => {
                let names: Vec<&str> = any
                    .iter()
                    .map(|who| match who {
                        Who::Me => "me",
                        Who::Person(id) => lens.ds.people.name(*id),
                    })
                    .collect();
                format!("{} {}", is(not), list_text(&names, "or"))
            }
            Check::MyRecord { not } => format!("{} my record", is(not)),
            Check::MyAddress { not } => format!("{} my address", is(not)),
            Check::Yes => "is yes".into(),
            // An empty one counts as no, here as in formulas.
            Check::No => "is no or empty".into(),
            Check::Error => "is an error".into(),
            Check::Differs => "is not what it was copied from".into(),
            Check::Record { not, any } => {
                let Some(Kind::Link(link)) = shown else { return String::new() };
                let name =
                    |record| lens.record_name(link.to, record).map_or_else(|| "a record that is not open to you".to_owned(), |n| n.name);
                let names: Vec<String> = any.iter().map(|r| name(*r)).collect();
                format!("{} {}", is(not), list_text(&names, "or"))
            }
        }
    }
}

fn number(value: rust_decimal::Decimal, kind: Option<&Kind>, customs: Customs) -> String {
    match kind {
        Some(Kind::Number { unit, .. }) => customs.number_text(value, 0, unit),
        Some(kind) => kind.number_words(value, 0, customs),
        None => customs.number_text(value, 0, ""),
    }
}

fn number_comparison(how: Comparison) -> &'static str {
    match how {
        Comparison::Is => "is",
        Comparison::IsNot => "is not",
        Comparison::Under => "is under",
        Comparison::AtMost => "is at most",
        Comparison::Over => "is over",
        Comparison::AtLeast => "is at least",
    }
}

fn day_words(how: Comparison, than: When, customs: Customs) -> String {
    let day = match than {
        When::Date(date) => customs.date_text(date),
        When::Today(0) => "today".into(),
        When::Today(1) => "tomorrow".into(),
        When::Today(-1) => "yesterday".into(),
        When::Today(days) if days > 0 => format!("{days} days from today"),
        When::Today(days) => format!("{} days ago", days.unsigned_abs()),
    };
    let how = match how {
        Comparison::Is => "is",
        Comparison::IsNot => "is not",
        Comparison::Under => "is before",
        Comparison::AtMost => "is on or before",
        Comparison::Over => "is after",
        Comparison::AtLeast => "is on or after",
    };
    format!("{how} {day}")
}
