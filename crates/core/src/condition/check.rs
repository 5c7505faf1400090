//! Whether a condition fits the table it is set on.

use super::{Check, Condition, MAX_DEPTH, MAX_TESTS, Period, Test, When};
use crate::{
    access::Lens,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::TableId,
    schema::{Kind, LIST_LIMIT, TEXT_LIMIT},
};
use serde::{Deserialize, Serialize};

/// Most days that a rule counts: nearly three centuries.
const DAYS_LIMIT: u32 = 100_000;

/// How two values that have an order are compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Comparison {
    Is,
    IsNot,
    Under,
    AtMost,
    Over,
    AtLeast,
}

impl Comparison {
    /// Whether it holds of two values of this order.
    pub fn holds(self, order: std::cmp::Ordering) -> bool {
        match self {
            Comparison::Is => order.is_eq(),
            Comparison::IsNot => order.is_ne(),
            Comparison::Under => order.is_lt(),
            Comparison::AtMost => order.is_le(),
            Comparison::Over => order.is_gt(),
            Comparison::AtLeast => order.is_ge(),
        }
    }
}

impl Condition {
    /// Whether every test fits its field, and the whole is not too large.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] for each test that does not, with its place in the condition.
    pub fn check(&self, ds: &Dataset, table: TableId) -> Checked<()> {
        if self.depth() > MAX_DEPTH || self.tests().len() > MAX_TESTS {
            let message =
                format!("This condition is too large: at most {MAX_TESTS} tests, nested {MAX_DEPTH} deep. Split it into two views.");
            return Err(Fault::new(FaultKind::BadRule, message).into());
        }
        let mut faults = Vec::new();
        self.gather(&|test| test.fault(ds, table), "", &mut faults);
        Faults::none_or(faults)
    }

    /// The same for somebody: a rule that names what is not open to them learns nothing of it, not even that it is there.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`], with the same words for what is hidden and for what is not there.
    pub fn check_for(&self, lens: &Lens<'_>, table: TableId) -> Checked<()> {
        let hidden = || Fault::new(FaultKind::BadRule, "This rule names a field that is not there, or is not open to you.");
        let mut faults = Vec::new();
        self.gather(&|test| (!test.is_open_to(lens, table)).then(hidden), "", &mut faults);
        Faults::none_or(faults)?;
        self.check(lens.dataset(), table)
    }

    /// Whether every field that it names is one that somebody may read.
    pub fn is_open_to(&self, lens: &Lens<'_>, table: TableId) -> bool {
        self.tests().iter().all(|test| test.is_open_to(lens, table))
    }

    /// The same without the tests that name what somebody may not read.
    #[must_use]
    pub fn as_open_to(&self, lens: &Lens<'_>, table: TableId) -> Condition {
        let open = |part: &Condition| match part {
            Condition::Test(test) => test.is_open_to(lens, table).then(|| part.clone()),
            // What said nothing to begin with stays: *any of* nothing holds for no record.
            nested => Some(nested.as_open_to(lens, table)).filter(|n| nested.tests().is_empty() || !n.tests().is_empty()),
        };
        match self {
            Condition::All(parts) => Condition::All(parts.iter().filter_map(open).collect()),
            Condition::Any(parts) => Condition::Any(parts.iter().filter_map(open).collect()),
            Condition::Test(test) if test.is_open_to(lens, table) => self.clone(),
            Condition::Test(_) => Condition::default(),
        }
    }

    fn gather(&self, fault: &dyn Fn(&Test) -> Option<Fault>, at: &str, faults: &mut Vec<Fault>) {
        match self {
            Condition::Test(test) => faults.extend(fault(test).map(|f| f.at(format!("{at}/test")))),
            Condition::All(parts) | Condition::Any(parts) => {
                let name = if matches!(self, Condition::All(_)) { "all" } else { "any" };
                for (place, part) in parts.iter().enumerate() {
                    part.gather(fault, &format!("{at}/{name}/{place}"), faults);
                }
            }
        }
    }
}

impl Test {
    fn is_open_to(&self, lens: &Lens<'_>, table: TableId) -> bool {
        let mut at = Some(table);
        self.path.iter().all(|field| {
            let Some(home) = at.filter(|t| lens.opens(*t)).and_then(|t| lens.dataset().table(t)) else { return false };
            at = home.link(*field).map(|link| link.to);
            home.def.field(*field).is_some() && lens.reads(home.def.id, *field)
        })
    }

    fn fault(&self, ds: &Dataset, table: TableId) -> Option<Fault> {
        let (home, field) = match ds.walk(table, &self.path) {
            Ok(end) => end,
            Err(fault) => return Some(fault),
        };
        let (_, kind) = ds.shown_kind(home, field)?;
        let name = ds.table(home).and_then(|t| t.def.field(field)).map_or("", |f| f.name.as_str());
        let bad = |message: String| Some(Fault::new(FaultKind::BadRule, message));
        if !self.check.fits(kind) {
            return bad(format!("“{}” is a {} field, which can't be tested like this.", name, kind.name()));
        }
        let copied = ds.table(home).and_then(|t| t.def.field(field)).is_some_and(|f| f.copies.is_some());
        match (&self.check, kind) {
            (Check::Differs, _) if !copied => bad(format!("“{name}” copies nothing, so that nothing can differ from it.")),
            (Check::Option { any, .. }, kind) if any.is_empty() || any.iter().any(|o| !kind.options().iter().any(|p| p.id == *o)) => {
                bad(format!("Choose at least one of the options of “{}”.", name))
            }
            (Check::Person { any, .. }, _) if any.is_empty() => bad(format!("Choose at least one person for “{}”.", name)),
            (Check::MyRecord { .. }, Kind::Link(link)) => match ds.people_table() {
                None => bad("No table holds the people yet: say in Access which does, and by which address they are known.".into()),
                Some((people, _)) if people.def.id != link.to => bad(format!(
                    "“{name}” leads to {}, and “my record” is one of the {}.",
                    ds.table(link.to).map_or_else(String::new, |t| t.def.many()),
                    people.def.many()
                )),
                Some(_) => None,
            },
            (Check::Record { any, .. }, _) if any.is_empty() => bad(format!("Choose at least one record for “{}”.", name)),
            (Check::Text { text, .. }, _) if text.trim().is_empty() => bad(format!("Say what “{}” is compared with.", name)),
            (Check::Text { text, .. }, _) if text.chars().count() > TEXT_LIMIT => {
                bad(format!("Compare “{}” with at most {TEXT_LIMIT} characters.", name))
            }
            (Check::Older { days } | Check::Within { period: Period::LastDays(days) | Period::NextDays(days) }, _)
                if *days > DAYS_LIMIT =>
            {
                bad(format!("For “{}”, count at most {DAYS_LIMIT} days.", name))
            }
            (Check::Day { than: When::Today(days), .. }, _) if days.unsigned_abs() > DAYS_LIMIT => {
                bad(format!("For “{}”, count at most {DAYS_LIMIT} days.", name))
            }
            (Check::Option { any, .. }, _) if any.len() > LIST_LIMIT => bad(format!("Choose fewer options of “{}”.", name)),
            (Check::Record { any, .. }, _) if any.len() > LIST_LIMIT => bad(format!("Choose fewer records for “{}”.", name)),
            (Check::Person { any, .. }, _) if any.len() > LIST_LIMIT => bad(format!("Choose fewer people for “{}”.", name)),
            (Check::Between { least, most }, _) if least > most => {
                bad(format!("For “{}” the least is more than the most: swap them.", name))
            }
            _ => None,
        }
    }
}

impl Check {
    /// Whether a field of this kind can be tested so.
    pub fn fits(&self, kind: &Kind) -> bool {
        let is_text = matches!(
            kind,
            Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone | Kind::Numbering { .. } | Kind::Web | Kind::Place
        );
        match self {
            // Whether it is copied at all is asked of the field.
            Check::Empty | Check::Filled | Check::Error | Check::Differs => true,
            Check::Text { .. } => is_text,
            // A duration is compared in seconds.
            Check::Number { .. } | Check::Between { .. } => kind.is_number() || matches!(kind, Kind::Id),
            Check::Day { .. } | Check::Within { .. } | Check::Older { .. } => {
                matches!(kind, Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt | Kind::Range)
            }
            Check::Option { .. } => matches!(kind, Kind::Choice { .. } | Kind::Choices { .. }),
            Check::Person { .. } => matches!(kind, Kind::Person | Kind::People | Kind::CreatedBy | Kind::ChangedBy),
            Check::Record { .. } | Check::MyRecord { .. } => matches!(kind, Kind::Link(_)),
            Check::MyAddress { .. } => matches!(kind, Kind::Email),
            Check::Yes | Check::No => matches!(kind, Kind::YesNo),
        }
    }
}
