//! Changing the structure: tables, views, forms, roles, automations.

use super::{Decider, cells::Before, draft::Draft};
use crate::{
    access::{Asker, Base},
    automation::Automation,
    checks::check_name,
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    figure::Figure,
    formula::Formula,
    highlight::Highlight,
    history::{Change, Op},
    id::{FieldId, HighlightId, TableId, ViewId},
    part::{Part, Sort, with_part},
    rules::Rules,
    schema::{Copies, FieldDef, Kind, MOST_RECIPES, MineBy, NAME_LIMIT, NumberPart, Preset, Summary, TEXT_LIMIT, TableDef},
    value::Value,
    view::View,
};

/// Most computed fields that draw one on the other.
const CHAIN_LIMIT: usize = 1_000;
/// Most fields of a table.
const FIELDS_LIMIT: usize = 250;
/// Most digits after the point, and the longest unit.
const DECIMALS_LIMIT: u32 = 12;
const UNIT_LIMIT: usize = 30;
/// Most options of a choice.
const CHOICES_LIMIT: usize = 500;
/// Most parts of a numbering, the longest fixed one, and the most digits of its counter.
const NUMBER_PARTS: usize = 12;
const FIXED_LIMIT: usize = 60;
const DIGITS_LIMIT: usize = 12;

impl Decider<'_> {
    pub(super) fn current(&self, part: &Part) -> Result<Part, Fault> {
        self.ds.current(part).ok_or_else(|| Fault::not_found(part.key().0))
    }

    /// A part as it is kept.
    pub(super) fn tidied(&self, part: Part) -> Checked<Part> {
        let takes = |value: Value, def: &FieldDef| self.checked(value, Before::NOTHING, def, false);
        let part: Part = with_part!(part, part => part.tidied(self.ds, &takes).map(Into::into))?;
        Ok(match part {
            Part::Automation(automation) => Part::Automation(self.acting(automation)),
            part => part,
        })
    }

    /// An automation acts for whoever said last what it does; who only names it or lets it rest changes nothing of that.
    fn acting(&self, automation: Automation) -> Automation {
        let now = self.ds.automation(automation.id);
        let acts_for = match self.asker {
            Asker::Person(me) if now.is_none_or(|now| !now.does_as(&automation) || now.acts_for.is_none()) => Some(me),
            Asker::Person(_) => now.and_then(|now| now.acts_for),
            _ => automation.acts_for,
        };
        Automation { acts_for, ..automation }
    }

    /// One part from one state to another, if the asker may and the rest still stands.
    pub(super) fn put(&self, before: Option<Part>, after: Option<Part>) -> Checked<Op> {
        for part in before.iter().chain(&after) {
            self.may_shape(part)?;
        }
        if let Some(part) = &before {
            with_part!(part, part => part.may_give_way(after.as_ref().and_then(Sort::of), &self.lens))?;
        }
        if let Some(part) = &after {
            with_part!(part, part => part.may_be_put(&self.lens))?;
        }
        let op = Op::Put { before: before.map(Box::new), after: after.map(Box::new) };
        self.stands_after(std::slice::from_ref(&op))?;
        Ok(op)
    }

    /// Takes a part away, and its name out of what only shows it.
    pub(super) fn drop_part(&self, part: &Part) -> Checked<Vec<Op>> {
        let part = self.current(part)?;
        self.may_shape(&part)?;
        with_part!(&part, part => part.may_give_way(None, &self.lens))?;
        let mut draft = Draft::new(self.ds);
        draft.drop(part.clone());
        if let Some(name) = part.name() {
            if let Some(holding) = self.ds.uses_of(name).into_iter().find(|u| u.holds) {
                return Err(self.held(part.title(), &holding, "").into());
            }
            draft.forget(&[name]);
        }
        let ops = draft.ops();
        self.stands_after(&ops)?;
        Ok(ops)
    }

    /// A highlight at another place of its table's list.
    pub(super) fn move_highlight(&self, highlight: HighlightId, to: usize) -> Checked<Vec<Op>> {
        let known = self.ds.highlight(highlight).filter(|one| self.lens.opens(one.table));
        let one = known.ok_or_else(|| Fault::not_found("highlight"))?;
        self.may_shape(&Part::Highlight(one.clone()))?;
        let put = |(before, after): (Highlight, Highlight)| Op::Put {
            before: Some(Box::new(before.into())),
            after: Some(Box::new(after.into())),
        };
        Ok(self.ds.highlights_moved(highlight, to).into_iter().map(put).collect())
    }

    /// A view at another place among those beside it.
    pub(super) fn move_view(&self, view: ViewId, to: usize) -> Checked<Vec<Op>> {
        let one = self.ds.view(view).filter(|one| self.lens.knows(one)).ok_or_else(|| Fault::not_found("view"))?;
        self.may_shape(&Part::View(one.clone()))?;
        let put = |(before, after): (View, View)| Op::Put { before: Some(Box::new(before.into())), after: Some(Box::new(after.into())) };
        Ok(self.ds.views_moved(view, to).into_iter().map(put).collect())
    }

    /// Several parts from one state to another, checked as they stand together.
    pub(super) fn put_all(&self, ops: &[Op]) -> Checked<()> {
        for op in ops {
            let Op::Put { before, after } = op else { continue };
            // A change of a table may have reached into somebody's own view.
            let reached = |part: &Part| matches!(part, Part::View(_) | Part::Highlight(_)) && self.lens.builds() && ops.len() > 1;
            let shaped = |part: &Part| self.may_shape(part).map_err(|fault| in_the_way(part, fault, ops.len() > 1));
            before.iter().chain(after).map(|part| &**part).filter(|part| !reached(part)).try_for_each(shaped)?;
        }
        if ops.is_empty() { Ok(()) } else { self.stands_after(ops).map(drop) }
    }

    /// Parts that name each other, made together.
    pub(super) fn build(&self, parts: &[Part]) -> Checked<Vec<Op>> {
        let mut ops = Vec::new();
        for part in parts {
            self.may_shape(part)?;
            let before = self.ds.current(part);
            if before.is_some() && !matches!(part, Part::Tracker(_)) {
                let (sort, number) = part.key();
                return Err(Fault::new(FaultKind::BadRule, format!("There is a {sort} with the number {number} already.")).into());
            }
            ops.push(Op::Put { before: before.map(Box::new), after: Some(Box::new(part.clone())) });
        }
        self.stands_after(&ops)?;
        Ok(ops)
    }

    /// Checks what was put in against the dataset as it would be.
    pub(super) fn stands_after(&self, ops: &[Op]) -> Checked<Dataset> {
        let mut after = self.ds.clone();
        let change = Change {
            seq: self.ds.seq + 1,
            at: self.clock.now,
            who: super::Actor::Westerfall,
            undoes: None,
            again: false,
            ops: ops.to_vec(),
        };
        after.apply(&change);
        for op in ops {
            let Op::Put { before, after: Some(part) } = op else { continue };
            with_part!(&**part, part => part.fits(before.as_deref().and_then(Sort::of), &after))?;
            let same_sort = before.as_deref().is_none_or(|b| b.key() == part.key());
            debug_assert!(same_sort, "a part changes into another state of itself");
        }
        if let [_, ..] = after.circle() {
            return Err(circle(&after).into());
        }
        if let Some((length, field)) = after.longest_chain()
            && length > CHAIN_LIMIT
        {
            return Err(too_long(&after, field).into());
        }
        let has_steward = |ds: &Dataset| ds.roles().any(|r| r.base == Base::Steward && r.holders(&ds.people).next().is_some());
        if has_steward(self.ds) && !has_steward(&after) {
            let message = "A tracker needs at least one steward. Make somebody else steward first.";
            return Err(Fault::new(FaultKind::NotAllowed, message).into());
        }
        Ok(after)
    }

    /// Whether the asker may make, change or take away such a part. A part they may not see is not found.
    pub(super) fn may_shape(&self, part: &Part) -> Result<(), Fault> {
        with_part!(part, part => part.may_shape(&self.lens, self.asker))
    }
}

/// Why something that was changed beside can't be: who may do what hangs on it. Which page or role that is, is the stewards' to know.
fn in_the_way(part: &Part, fault: Fault, beside: bool) -> Fault {
    let what = match part {
        Part::Page(_) if beside => "A shared page shows this",
        Part::Role(_) if beside => "A role speaks of this",
        _ => return fault,
    };
    Fault { message: format!("{what}. Ask the tracker’s steward to take it out of there first."), ..fault }
}

/// Whether what makes a record somebody's own is there and of its kind.
fn check_mine(ds: &Dataset, table: &TableDef) -> Result<(), Fault> {
    let MineBy { made: _, address, entered_for, own } = table.mine;
    let kind = |field: Option<FieldId>| field.map(|id| table.field(id).map(|f| &f.kind));
    let is_address = |kind: Option<&Kind>| matches!(kind, Some(Kind::Text { .. } | Kind::Email));
    for (field, place) in [(address, "/mine/address"), (own, "/mine/own")] {
        if kind(field).is_some_and(|kind| !is_address(kind)) {
            return Err(Fault::new(FaultKind::BadRule, "An address stands in a field for an e-mail address, or for text.").at(place));
        }
    }
    if kind(entered_for).is_some_and(|kind| !matches!(kind, Some(Kind::Person))) {
        return Err(Fault::new(FaultKind::BadRule, "For whom something is stands in a field for one person.").at("/mine/entered_for"));
    }
    let holds_people = |other: &&Table| other.def.mine.own.is_some() && other.def.id != table.id;
    if let Some(other) = ds.tables().find(holds_people).filter(|_| own.is_some() && table.gone.is_none()) {
        let message = format!("{} hold the people already; let go of that first.", other.def.name);
        return Err(Fault::new(FaultKind::BadRule, message).at("/mine/own"));
    }
    Ok(())
}

/// Whether the recipes by which records are made again fit the table.
fn check_recipes(table: &TableDef) -> Result<(), Fault> {
    if table.recipes.len() > MOST_RECIPES {
        return Err(Fault::new(FaultKind::TooLong, format!("A table has at most {MOST_RECIPES} recipes.")));
    }
    for (place, recipe) in table.recipes.iter().enumerate() {
        let bad = |message: String| Err(Fault::new(FaultKind::BadRule, message).at(format!("/recipes/{place}")));
        if let Some(message) = recipe.wrong() {
            return bad(message);
        }
        if table.recipes[..place].iter().any(|other| other.name.to_lowercase() == recipe.name.to_lowercase()) {
            return bad(format!("There is a recipe “{}” already.", recipe.name));
        }
        let is_day = |field: FieldId| table.field(field).is_some_and(|f| matches!(f.kind, Kind::Date | Kind::DateTime | Kind::Range));
        if recipe.moves.iter().any(|one| !is_day(one.field)) || recipe.empties.iter().any(|field| table.field(*field).is_none()) {
            return bad("This recipe moves on what is no day, or names a field that is not there any more.".to_owned());
        }
    }
    Ok(())
}

/// Whether what was said of how records are laid out fits the table.
fn check_arrangement(ds: &Dataset, table: &TableDef) -> Result<(), Fault> {
    let arrangement = &table.arrangement;
    if let Some((message, at)) = arrangement.wrong() {
        return Err(Fault::new(FaultKind::BadRule, message).at(at));
    }
    for (place, section) in arrangement.sections.iter().enumerate() {
        let at = |part: &str| format!("/sections/{place}{part}");
        if section.fields.iter().any(|placed| table.field(placed.field).is_none()) {
            return Err(Fault::new(FaultKind::BadRule, "This section holds a field that is not there any more.").at(at("/fields")));
        }
        if let Err(Faults(found)) = section.when.check(ds, table.id)
            && let Some(first) = found.into_iter().next()
        {
            return Err(first.at(at("/when")));
        }
    }
    if arrangement.away.iter().any(|field| table.field(*field).is_none()) {
        return Err(Fault::new(FaultKind::BadRule, "A field that is put away is not there any more.").at("/away"));
    }
    for (place, list) in arrangement.lists.iter().enumerate() {
        let theirs = match table.field(list.field).map(|f| &f.kind) {
            Some(Kind::Link(link)) => ds.table(link.to),
            _ => None,
        };
        let named = list.shows.iter().chain(&list.by).chain(list.figures.iter().map(|of| &of.field));
        if theirs.is_none_or(|theirs| named.into_iter().any(|field| theirs.def.field(*field).is_none())) {
            let message = "This list shows a field of records that the link does not lead to.";
            return Err(Fault::new(FaultKind::BadRule, message).at(format!("/lists/{place}")));
        }
    }
    Ok(())
}

/// Whether a table's fields fit together and its links stand on both sides.
pub(super) fn check_table(ds: &Dataset, table: &TableDef, before: Option<&TableDef>) -> Result<(), Fault> {
    check_name(&table.name)?;
    let bad = |message: String| Err(Fault::new(FaultKind::BadRule, message));
    if table.field(table.standing).is_none() {
        return bad(format!("“{}” has no field that stands for its records.", table.name));
    }
    check_mine(ds, table)?;
    check_arrangement(ds, table)?;
    check_recipes(table)?;
    if table.talk_for.iter().any(|role| ds.role(*role).is_none()) {
        return Err(Fault::not_found("role").at("/roles"));
    }
    if let Some(rounds) = &table.rounds {
        rounds.check(ds, table)?;
    }
    if let Some(way) = ds.names_in_a_circle(table.id) {
        let last = way.last().map_or("", |(_, field)| field.name.as_str());
        let by = way.iter().map(|(table, field)| format!("{} by “{}”", table.def.name, field.name)).collect::<Vec<_>>().join(", ");
        return bad(format!(
            "Records would be named by each other in a circle: {by}. Choose a field other than “{last}” that stands for them."
        ));
    }
    if table.fields.len() > FIELDS_LIMIT {
        return Err(Fault::new(FaultKind::TooLong, format!("A table has at most {FIELDS_LIMIT} fields.")));
    }
    for (text, most, what) in [(&table.one, NAME_LIMIT, "word for one record"), (&table.heading, NAME_LIMIT, "heading")] {
        if text.chars().count() > most {
            return Err(Fault::new(FaultKind::TooLong, format!("The {what} of a table has at most {most} characters.")));
        }
    }
    for (place, field) in table.fields.iter().enumerate() {
        let at = |f: Fault| f.at(format!("/fields/{place}"));
        check_name(&field.name).map_err(at)?;
        check_size(field).map_err(at)?;
        if table.fields[..place].iter().any(|f| f.name.to_lowercase() == field.name.to_lowercase()) {
            return bad(format!("“{}” has two fields called “{}”.", table.name, field.name)).map_err(at);
        }
        let fits = match (&field.preset, &field.kind) {
            (None, _) | (Some(Preset::Now), Kind::Date | Kind::DateTime) => true,
            (Some(Preset::Value(Value::Choice(option))), Kind::Choice { options, .. }) => options.iter().any(|o| o.id == *option),
            (Some(Preset::Value(Value::Number(_))), Kind::Number { .. }) | (Some(Preset::Value(Value::Date(_))), Kind::Date) => true,
            (Some(Preset::Value(Value::Text(_))), Kind::Text { .. } | Kind::LongText) => true,
            (Some(_), _) => false,
        };
        if !fits {
            return bad(format!("“{}” can’t begin with a value of another kind.", field.name)).map_err(at);
        }
        if let Some(copies) = field.copies {
            check_copies(ds, table, field, copies).map_err(at)?;
        }
        match &field.kind {
            Kind::Link(link) => {
                let other = ds.table(link.to).and_then(|t| t.link(link.back));
                let paired = other.is_some_and(|o| o.to == table.id && o.back == field.id && o.holds != link.holds);
                if !paired {
                    return bad(format!("The link “{}” has no other side.", field.name)).map_err(at);
                }
                let shows = |id| {
                    ds.table(link.to).and_then(|t| t.def.field(id)).is_some_and(|f| !matches!(f.kind, Kind::Files | Kind::Button { .. }))
                };
                if field.offers.named.is_some_and(|id| !shows(id)) {
                    return bad(format!("“{}” can’t show this field of the records that it links. Choose another.", field.name))
                        .map_err(at);
                }
            }
            Kind::Carried { .. } => {
                if ds.shown_kind(table.id, field.id).is_none() {
                    return bad(format!("“{}” carries a field that is not there, or itself.", field.name)).map_err(at);
                }
            }
            Kind::Choice { options, .. } | Kind::Choices { options } => {
                check_dependence(table, field).map_err(at)?;
                for (place, option) in options.iter().enumerate() {
                    check_name(&option.name).map_err(at)?;
                    if options[..place].iter().any(|o| o.id == option.id || o.name.to_lowercase() == option.name.to_lowercase()) {
                        return bad(format!("“{}” has the option “{}” twice.", field.name, option.name)).map_err(at);
                    }
                }
            }
            Kind::Money { currency } => {
                if iso_currency::Currency::from_code(currency).is_none() {
                    return bad(format!("“{currency}” is not the code of a currency, like GBP or EUR.")).map_err(at);
                }
            }
            Kind::Rating { most } => {
                if !(2..=10).contains(most) {
                    return bad(format!("“{}” can go from 1 to 2 at least, to 10 at most.", field.name)).map_err(at);
                }
            }
            Kind::Summary(summary) => check_summary(ds, table.id, field, summary).map_err(at)?,
            Kind::Calculation { formula, shows } => {
                let was = before.and_then(|t| t.field(field.id)).map(|f| &f.kind);
                if was != Some(&field.kind) {
                    check_formula(ds, table.id, field, formula, shows).map_err(at)?;
                }
            }
            Kind::Button { automation, .. } => {
                let runs = automation
                    .map(|id| ds.automation(id).filter(|a| a.table == table.id && a.when == crate::automation::Occasion::Pressed));
                if runs == Some(None) {
                    return bad(format!("The button “{}” runs no automation of this table that begins by pressing.", field.name))
                        .map_err(at);
                }
            }
            Kind::Text { .. }
            | Kind::LongText
            | Kind::Number { .. }
            | Kind::Percent { .. }
            | Kind::YesNo
            | Kind::Date
            | Kind::DateTime
            | Kind::Range
            | Kind::Duration
            | Kind::Person
            | Kind::People
            | Kind::Email
            | Kind::Phone
            | Kind::Web
            | Kind::Place
            | Kind::Files
            | Kind::Checklist
            | Kind::Json
            | Kind::Numbering { .. }
            | Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy
            | Kind::Id => {}
        }
    }
    Ok(())
}

/// Whether a field's settings are within what can be shown and kept.
pub(super) fn check_size(field: &FieldDef) -> Result<(), Fault> {
    let long = |message: String| Err(Fault::new(FaultKind::TooLong, message));
    if field.help.chars().count() > TEXT_LIMIT {
        return long(format!("The help of “{}” has at most {TEXT_LIMIT} characters.", field.name));
    }
    let decimals = |decimals: u32| {
        if decimals <= DECIMALS_LIMIT {
            Ok(())
        } else {
            long(format!("“{}” shows at most {DECIMALS_LIMIT} digits after the point.", field.name))
        }
    };
    match &field.kind {
        Kind::Text { limit } if *limit == 0 || *limit > TEXT_LIMIT => {
            long(format!("“{}” takes from 1 to {TEXT_LIMIT} characters.", field.name))
        }
        Kind::Number { unit, .. } if unit.chars().count() > UNIT_LIMIT => {
            long(format!("The unit of “{}” has at most {UNIT_LIMIT} characters.", field.name))
        }
        Kind::Number { decimals: most, .. } | Kind::Percent { decimals: most } => decimals(*most),
        Kind::Choice { options, .. } | Kind::Choices { options } if options.len() > CHOICES_LIMIT => {
            long(format!("“{}” has at most {CHOICES_LIMIT} options.", field.name))
        }
        Kind::Button { label, .. } => check_label(label, &field.name),
        Kind::Numbering { parts } => check_numbering(parts, &field.name),
        _ => Ok(()),
    }?;
    match &field.preset {
        Some(Preset::Value(Value::Number(number))) if number.abs() >= crate::value::NUMBER_LIMIT => {
            long(format!("“{}” takes numbers of at most 24 digits before the point.", field.name))
        }
        Some(Preset::Value(Value::Text(text))) if text.chars().count() > crate::schema::LONG_TEXT_LIMIT => {
            long(format!("“{}” begins with too long a text.", field.name))
        }
        _ => Ok(()),
    }
}

fn check_label(label: &str, field: &str) -> Result<(), Fault> {
    if label.chars().count() <= NAME_LIMIT {
        return Ok(());
    }
    Err(Fault::new(FaultKind::TooLong, format!("What stands on the button “{field}” has at most {NAME_LIMIT} characters.")))
}

fn check_numbering(parts: &[NumberPart], field: &str) -> Result<(), Fault> {
    let long = |message: String| Err(Fault::new(FaultKind::TooLong, message));
    if parts.len() > NUMBER_PARTS {
        return long(format!("The numbering “{field}” has at most {NUMBER_PARTS} parts."));
    }
    for part in parts {
        match part {
            NumberPart::Fixed { text } if text.chars().count() > FIXED_LIMIT => {
                return long(format!("A fixed part of the numbering “{field}” has at most {FIXED_LIMIT} characters."));
            }
            NumberPart::Counter { digits, .. } if *digits > DIGITS_LIMIT => {
                return long(format!("The counter of “{field}” has at most {DIGITS_LIMIT} digits."));
            }
            NumberPart::Fixed { .. } | NumberPart::Counter { .. } | NumberPart::Year | NumberPart::Month => {}
        }
    }
    Ok(())
}

/// A copied value comes along a link to one record that its own table holds, from a field of values of its sort.
fn check_copies(ds: &Dataset, table: &TableDef, field: &FieldDef, copies: Copies) -> Result<(), Fault> {
    let link = match table.field(copies.link).map(|f| &f.kind) {
        Some(Kind::Link(link)) if link.one && link.holds => link,
        _ => {
            return Err(Fault::new(
                FaultKind::BadRule,
                format!("“{}” copies along a link that is not there, or not to one record.", field.name),
            ));
        }
    };
    let source = ds.shown_kind(link.to, copies.field).map(|(_, kind)| kind);
    if source.is_some_and(|kind| kind.holds_as(&field.kind)) {
        return Ok(());
    }
    Err(Fault::new(FaultKind::BadRule, format!("“{}” can’t keep the values that it copies: they are of another kind.", field.name)))
}

fn check_dependence(table: &TableDef, field: &FieldDef) -> Result<(), Fault> {
    let Kind::Choice { options, on: Some(on) } = &field.kind else { return Ok(()) };
    let bad = |message: String| Err(Fault::new(FaultKind::BadRule, message));
    let other = match table.field(*on).map(|f| &f.kind) {
        Some(Kind::Choice { options, .. }) if *on != field.id => options,
        _ => return bad(format!("The options of “{}” can only depend on another choice of the same table.", field.name)),
    };
    match options.iter().find(|o| o.under.is_none_or(|under| !other.iter().any(|p| p.id == under))) {
        Some(option) => bad(format!("Say under which option “{}” stands.", option.name)),
        None => Ok(()),
    }
}

/// A calculation's formula must fit the tables as they are, and its result the way it is shown.
fn check_formula(ds: &Dataset, table: TableId, field: &FieldDef, formula: &Formula, shows: &Kind) -> Result<(), Fault> {
    let (result, faults) = formula.result_type(ds, table);
    if let Some(fault) = faults.first() {
        let message = format!("The formula of “{}” does not fit: {}.", field.name, fault.message);
        return Err(Fault::new(FaultKind::BadRule, message).at("/formula"));
    }
    if !shows.shows_type(result.of) {
        let message = format!("The formula of “{}” gives {}, which can’t be shown as {}.", field.name, result.of.name(), shows.name());
        return Err(Fault::new(FaultKind::BadRule, message).at("/shows"));
    }
    Ok(())
}

fn check_summary(ds: &Dataset, table: TableId, field: &FieldDef, summary: &Summary) -> Result<(), Fault> {
    let bad = |message: String| Err(Fault::new(FaultKind::BadRule, message));
    let Some(end) = ds.end_of(table, &summary.links).filter(|_| !summary.links.is_empty()) else {
        return bad(format!("“{}” sums up along a link that is not there.", field.name));
    };
    if summary.condition.is_about_me() {
        return bad(format!("“{}” can’t depend on who looks: a figure is the same for everyone.", field.name));
    }
    if let Err(Faults(faults)) = summary.condition.check(ds, end) {
        return faults.into_iter().next().map_or(Ok(()), |fault| Err(fault.at("/condition")));
    }
    match ds.summary_kind(end, summary.figure, summary.field) {
        Some(kind) if kind == *summary.shows => Ok(()),
        Some(_) => bad(format!("“{}” can’t be shown like this.", field.name)),
        None => bad(format!("“{}” figures something that this field can’t give.", field.name)),
    }
}

/// A field that follows from too many others.
fn too_long(ds: &Dataset, field: FieldId) -> Fault {
    let name = ds.field(field).map_or_else(String::new, |(table, def)| format!("“{}” in {}", def.name, table.def.name));
    let message = format!("{name} follows from more than {CHAIN_LIMIT} fields, one on the other. Let it follow from fewer.");
    Fault::new(FaultKind::TooLong, message)
}

/// Formulas that need each other, named in order.
fn circle(ds: &Dataset) -> Fault {
    let name = |field: &FieldId| ds.field(*field).map_or_else(String::new, |(t, f)| format!("“{}” in {}", f.name, t.def.name));
    let names: Vec<String> = ds.circle().iter().chain(ds.circle().first()).map(name).collect();
    let message = match &names[..] {
        [one, _] => format!("{one} would need its own value. A formula can’t name the field it computes."),
        _ => format!("These fields would need each other in a circle: {}. Break it at one of them.", names.join(" needs ")),
    };
    Fault::new(FaultKind::BadRule, message)
}

impl Dataset {
    /// How a summary's figure is shown, by the field it is of; none where they do not go together.
    pub fn summary_kind(&self, table: TableId, figure: Figure, field: Option<FieldId>) -> Option<Kind> {
        match field {
            Some(field) => figure.shown(Some(self.shown_kind(table, field)?.1)),
            None => figure.shown(None),
        }
    }
}
