//! An automation as a part.

use super::{Automation, Hour, MAX_STEP_DEPTH, MAX_STEPS, Occasion, Pause, Recipient, Round, Step};
use crate::{
    access::{Asker, Lens},
    bulk::{Alter, Altered, MOST_FIELDS},
    checks::{check_mail, check_name},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    formula::Formula,
    id::{AutomationId, FieldId, TableId},
    names::Name,
    part::{Part, Sort, is_part},
    rules::{Rules, Tells, builders_only},
    schema::{FieldDef, Kind, Same},
    value::phone_number,
};

/// Most characters of the name of a chat room.
const LONGEST_ROOM: usize = 60;
/// Most lines under a record that is added.
const MOST_LINES: usize = 20;
/// Most days before or after one, and most that are waited.
const MOST_DAYS: u32 = 3_660;

is_part!(Automation, Automation);

impl Sort for Automation {
    const SORT: &'static str = "automation";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Automation(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = AutomationId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Automation(self.id))
    }
}

impl Rules for Automation {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        builders_only(lens, "this")
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        self.check(ds)
    }

    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        // Whoever fills in a field is to know that something is set going by it.
        Tells::structure_if(after.builds() || before.dataset().sets_going() != after.dataset().sets_going())
    }

    fn packed(mut self, _whole: bool) -> Option<Self> {
        // A secret stays where it is known.
        let drafted = self.draft.iter_mut().flat_map(|draft| &mut draft.steps);
        self.steps.iter_mut().chain(drafted).for_each(Step::without_secrets);
        Some(self)
    }
}

impl Dataset {
    /// The automation of this number.
    pub fn automation(&self, id: AutomationId) -> Option<&Automation> {
        self.part(id.get())
    }

    /// All automations, by their numbers.
    pub fn automations(&self) -> impl Iterator<Item = &Automation> {
        self.parts_of()
    }
}

impl Automation {
    /// Whether everything it names is there and fits.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let mut faults: Vec<Fault> = check_name(&self.name).err().into_iter().collect();
        if let Err(fault) = self.check_when(ds) {
            faults.push(fault);
        }
        if let Err(Faults(found)) = self.condition.check(ds, self.table) {
            faults.extend(found.into_iter().map(|f| f.at("/condition")));
        }
        if let Err(Faults(found)) = self.before.check(ds, self.table) {
            faults.extend(found.into_iter().map(|f| f.at("/before")));
        }
        if !self.before.is_nothing() && !self.has_before() {
            let message = "What held before can be asked of what changes, or begins to hold. Take it out, or let a change set this going.";
            faults.push(bad(message).at("/before"));
        }
        // What rests may be half said.
        if (self.on && self.steps.is_empty()) || self.all_steps().len() > MAX_STEPS {
            faults.push(bad(format!("An automation does from 1 to {MAX_STEPS} things.")).at("/steps"));
        }
        let about = About { table: self.table, own: self.table, gathers: self.gathers(), found: false, depth: 0, on: self.on };
        check_steps(ds, &self.steps, &about, "/steps", &mut faults);
        // A draft may be half said until it takes over.
        if let Some(Err(Faults(found))) = self.drafted().map(|draft| Automation { on: false, ..draft }.check(ds)) {
            faults.extend(found.into_iter().map(|fault| fault.at("/draft")));
        }
        Faults::none_or(faults)
    }

    fn check_when(&self, ds: &Dataset) -> Result<(), Fault> {
        let at = |message: &str| Err(bad(message).at("/when"));
        let def = |field: FieldId| ds.table(self.table).and_then(|home| home.def.field(field));
        let hour = |at: &Hour| if at.is_of_a_day() { Ok(()) } else { Err(bad("Give an hour from 00:00 to 23:59.").at("/when")) };
        match &self.when {
            Occasion::Form(Some(form)) if ds.form(*form).is_none_or(|f| f.table != self.table) => {
                at("The form that sets this going is not there any more.")
            }
            Occasion::Changed(fields) if fields.iter().any(|field| def(*field).is_none()) => {
                at("A field that sets this going is not there any more.")
            }
            Occasion::Fits if self.on && self.condition.is_nothing() => {
                Err(bad("Say what begins to hold: without a condition it never does.").at("/condition"))
            }
            Occasion::Date { field, days, at: time, .. } => {
                let kind = def(*field).map(|def| def.kind.shows());
                if !matches!(kind, Some(Kind::Date | Kind::DateTime | Kind::Range | Kind::CreatedAt | Kind::ChangedAt)) {
                    return at("Choose a field that holds a day.");
                }
                if days.unsigned_abs() > MOST_DAYS {
                    return at("That is more than ten years from the day.");
                }
                hour(time)
            }
            Occasion::Every { round, at: time } => {
                match round {
                    Round::Weekly(days) if days.is_empty() || days.iter().any(|day| !(1..=7).contains(day)) => {
                        return at("Choose at least one day of the week.");
                    }
                    Round::Monthly(day) if !(1..=31).contains(day) => return at("A month has days from 1 to 31."),
                    _ => {}
                }
                hour(time)
            }
            Occasion::Form(_)
            | Occasion::Added
            | Occasion::Pressed
            | Occasion::Changed(_)
            | Occasion::Fits
            | Occasion::Chosen
            | Occasion::Started => Ok(()),
        }
    }
}

fn bad(message: impl Into<String>) -> Fault {
    Fault::new(FaultKind::BadRule, message)
}

/// Whether another automation can be started with a table's records.
fn started(ds: &Dataset, automation: AutomationId, table: TableId) -> Result<(), Fault> {
    match ds.automation(automation) {
        None => Err(bad("The automation that this starts is not there any more.")),
        Some(other) if other.when != Occasion::Started => {
            Err(bad(format!("“{}” is not set going by another automation. Say so in its first line.", other.name)))
        }
        Some(other) if other.table != table => Err(bad(format!("“{}” is of another table’s records.", other.name))),
        Some(_) => Ok(()),
    }
}

/// Where steps stand.
struct About {
    table: TableId,
    /// The automation's own table.
    own: TableId,
    /// Whether the automation comes for many records at once.
    gathers: bool,
    /// Whether they are done for records that were found.
    found: bool,
    depth: usize,
    /// Whether it runs: what rests may be half said.
    on: bool,
}

fn check_steps(ds: &Dataset, steps: &[Step], about: &About, at: &str, faults: &mut Vec<Fault>) {
    if about.depth > MAX_STEP_DEPTH {
        return faults.push(bad(format!("Steps stand within steps at most {MAX_STEP_DEPTH} deep.")).at(at));
    }
    for (place, step) in steps.iter().enumerate() {
        let at = format!("{at}/{place}/{}", step.word());
        let mut wrong = |found: Result<(), Fault>, part: &str| faults.extend(found.err().map(|fault| fault.at(format!("{at}{part}"))));
        match step {
            Step::Mail { to, subject, digest, reply, encloses, text, .. } => {
                let stored = text.and_then(|id| ds.stored_text(id));
                if text.is_some() && stored.is_none_or(|stored| stored.table != about.table) {
                    wrong(Err(bad("The text by which this is written is not there any more, or is of another table.")), "/text");
                }
                let subject = stored.map_or(subject, |stored| &stored.subject);
                wrong(to.check(ds, about.table), "/to");
                if subject.0.is_empty() {
                    wrong(Err(Fault::new(FaultKind::Missing, "Give the message a heading.")), "/subject");
                }
                if *digest && !about.gathers {
                    wrong(Err(bad("One message of many records needs a day, a timetable or chosen records, that bring many.")), "");
                }
                if *digest && subject.0.iter().any(|piece| piece.path().is_some()) {
                    wrong(Err(bad("This message is of many records, so its heading holds no value of one.")), "/subject");
                }
                if *digest && reply.is_some() {
                    wrong(Err(bad("One message of many records can’t be answered by a choice, which is of one.")), "/reply");
                }
                if *digest && encloses.is_some() {
                    wrong(Err(bad("One message of many records encloses no document, which is of one.")), "/encloses");
                }
                if encloses.is_some_and(|id| ds.document(id).is_none_or(|document| document.table != about.table)) {
                    wrong(Err(bad("This mail encloses a document that is not there any more, or is of another table.")), "/encloses");
                }
                for (fault, part) in reply.iter().flat_map(|reply| reply.check(ds, about.table)) {
                    wrong(Err(fault), &format!("/reply{part}"));
                }
            }
            Step::Set { along, alter } => match end_of(ds, about.table, along) {
                Ok(table) => wrong(check_alter(ds, table, alter, about.own, false), "/alter"),
                Err(fault) => wrong(Err(fault), "/along"),
            },
            Step::Add { table, alter, lines } => {
                wrong(ds.table(*table).map(drop).ok_or_else(|| bad("The table to which this adds is not there any more.")), "/table");
                wrong(check_alter(ds, *table, alter, about.own, true), "/alter");
                if lines.len() > MOST_LINES {
                    wrong(Err(bad(format!("At most {MOST_LINES} lines stand under what is added."))), "/lines");
                }
                for (number, line) in lines.iter().enumerate() {
                    match ds.table(*table).and_then(|home| home.link(line.under)) {
                        Some(link) => wrong(check_alter(ds, link.to, &line.alter, about.own, true), &format!("/lines/{number}/alter")),
                        None => wrong(Err(bad("The list in which this line stands is not there any more.")), &format!("/lines/{number}")),
                    }
                }
            }
            Step::Start { automation } => wrong(started(ds, *automation, about.table), ""),
            // What rests may be half said.
            Step::Say { text } if about.on && text.0.is_empty() => {
                wrong(Err(Fault::new(FaultKind::Missing, "Write what is said.")), "/text");
            }
            Step::Say { .. } => {}
            Step::Each { table, condition, same, .. } => {
                let Some(there) = ds.table(*table) else {
                    wrong(Err(bad("The table in which this looks is not there any more.")), "/table");
                    continue;
                };
                if about.found {
                    wrong(Err(bad("What goes through found records can’t go through others within.")), "");
                }
                wrong(
                    condition
                        .check(ds, *table)
                        .map_err(|Faults(all)| all.into_iter().next().unwrap_or_else(|| bad("This condition does not fit."))),
                    "/condition",
                );
                let home = ds.table(about.table);
                let known = |s: &Same| there.def.field(s.theirs).is_some() && home.is_some_and(|home| home.def.field(s.ours).is_some());
                if !same.iter().all(known) {
                    wrong(Err(bad("This rule names a field that is not there any more.")), "/same");
                }
            }
            Step::If { condition, .. } => {
                if condition.is_nothing() {
                    wrong(Err(bad("Say what must hold.")), "/condition");
                }
                wrong(
                    condition
                        .check(ds, about.table)
                        .map_err(|Faults(all)| all.into_iter().next().unwrap_or_else(|| bad("This condition does not fit."))),
                    "/condition",
                );
            }
            Step::Wait { pause, .. } => {
                wrong(pause.check(ds, about.table), "/pause");
            }
            Step::Call { calls, .. } => {
                for (fault, part) in calls.check(ds, about.table) {
                    wrong(Err(fault), &format!("/calls{part}"));
                }
            }
            Step::Stop => {}
        }
        for (word, table, inner) in step.inner(about.table) {
            let found = about.found || (matches!(step, Step::Each { .. }) && word == "steps");
            check_steps(ds, inner, &About { table, found, depth: about.depth + 1, ..*about }, &format!("{at}/{word}"), faults);
        }
        if about.on && matches!(step, Step::Each { steps, .. } if steps.is_empty()) {
            faults.push(bad("Say what is done with each that is found.").at(format!("{at}/steps")));
        }
    }
}

impl Step {
    fn without_secrets(&mut self) {
        match self {
            Step::Call { calls, steps, otherwise } => {
                calls.without_secrets();
                steps.iter_mut().chain(otherwise).for_each(Step::without_secrets);
            }
            Step::Each { steps, otherwise, .. } | Step::If { steps, otherwise, .. } | Step::Wait { steps, otherwise, .. } => {
                steps.iter_mut().chain(otherwise).for_each(Step::without_secrets);
            }
            Step::Mail { .. } | Step::Set { .. } | Step::Add { .. } | Step::Say { .. } | Step::Start { .. } | Step::Stop => {}
        }
    }
}

/// The table to which a path of links leads.
fn end_of(ds: &Dataset, table: TableId, along: &[FieldId]) -> Result<TableId, Fault> {
    let mut at = table;
    for link in along {
        let to = ds.table(at).and_then(|home| home.link(*link)).map(|link| link.to);
        at = to.ok_or_else(|| bad("This goes along a link that is not there any more."))?;
    }
    Ok(at)
}

/// Whether these fields may become that; `own`: the table that the automation is of, `adds`: of a new record.
pub(super) fn check_alter(ds: &Dataset, table: TableId, alter: &[Altered], own: TableId, adds: bool) -> Result<(), Fault> {
    if alter.is_empty() && !adds || alter.len() > MOST_FIELDS {
        return Err(bad(format!("Say which fields become what: one to {MOST_FIELDS} of them.")));
    }
    for one in alter {
        let def = ds.table(table).and_then(|home| home.def.field(one.field));
        let Some(def) = def else { return Err(bad("This names a field that is not there any more.")) };
        if !def.kind.takes_input() {
            return Err(bad(format!("“{}” is not filled in by anybody, so nothing can be put into it.", def.name)));
        }
        match &one.to {
            Alter::Along(path) if !path.is_empty() => drop(ds.walk(own, path)?),
            Alter::Along(_) if !matches!(def.kind, Kind::Link(link) if link.to == own) => {
                return Err(bad(format!("“{}” links to another table than the one this is about.", def.name)));
            }
            Alter::Now if !matches!(def.kind, Kind::Date | Kind::DateTime) => {
                return Err(bad(format!("“{}” holds no day.", def.name)));
            }
            Alter::Formula(formula) => fits_into(ds, formula, if adds { own } else { table }, def)?,
            Alter::AddTask(task) if !adds && !task.along.is_empty() => {
                let (home, end) = ds.walk(table, &task.along)?;
                if !matches!(ds.shown_kind(home, end).map(|(_, kind)| kind), Some(Kind::Person | Kind::People)) {
                    return Err(bad("What is to be done is given to somebody: choose a field that holds a person."));
                }
            }
            Alter::Set(_) | Alter::Empty | Alter::Along(_) | Alter::Now => {}
            _ if adds => return Err(bad(format!("A new record has nothing in “{}” that could be changed.", def.name))),
            Alter::From(field) => {
                ds.table(table)
                    .and_then(|home| home.def.field(*field))
                    .ok_or_else(|| bad("This names a field that is not there any more."))?;
            }
            _ => {}
        }
    }
    Ok(())
}

/// Whether what a formula of a table's records gives can stand in a field.
fn fits_into(ds: &Dataset, formula: &Formula, table: TableId, def: &FieldDef) -> Result<(), Fault> {
    let name = &def.name;
    let (result, faults) = formula.result_type(ds, table);
    if let Some(fault) = faults.first() {
        return Err(bad(format!("The formula for “{name}” does not hold: {}.", fault.message)));
    }
    let takes = match &def.kind {
        Kind::Text { .. } | Kind::LongText | Kind::Choice { .. } | Kind::Email | Kind::Phone => true,
        kind => kind.shows_type(result.of),
    };
    if takes { Ok(()) } else { Err(bad(format!("The formula gives {}, and that can’t stand in “{name}”.", result.of.name()))) }
}

impl Pause {
    fn check(&self, ds: &Dataset, table: TableId) -> Result<(), Fault> {
        match self {
            Pause::Hours(count) if *count == 0 || *count > 24 * MOST_DAYS => Err(bad("Wait from one hour to ten years.")),
            Pause::Days(count) | Pause::Until { days: count, .. } if *count == 0 || *count > MOST_DAYS => {
                Err(bad("Wait from one day to ten years."))
            }
            Pause::Until { condition, .. } if condition.is_nothing() => Err(bad("Say what it waits for.").at("/until/condition")),
            Pause::Until { condition, .. } => {
                let first = |Faults(all): Faults| all.into_iter().next().unwrap_or_else(|| bad("This condition does not fit."));
                condition.check(ds, table).map_err(|faults| first(faults).at("/until/condition"))
            }
            Pause::Field(field) => match ds.table(table).and_then(|home| home.def.field(*field)).map(|def| def.kind.shows()) {
                Some(Kind::Date | Kind::DateTime | Kind::Range) => Ok(()),
                _ => Err(bad("Choose a field that holds a day.")),
            },
            Pause::Hours(_) | Pause::Days(_) => Ok(()),
        }
    }
}

impl Recipient {
    fn check(&self, ds: &Dataset, table: TableId) -> Result<(), Fault> {
        match self {
            Recipient::Address(address) => check_mail(address),
            Recipient::Phone(number) => phone_number(number, ds.tracker.locale.country).map(drop),
            Recipient::Room(room) if room.trim().is_empty() => Err(Fault::new(FaultKind::Missing, "Say which room of the chat.")),
            Recipient::Room(room) if room.chars().count() > LONGEST_ROOM || room.chars().any(|c| c.is_control() || c == '#') => {
                Err(bad(format!("A room has a name of at most {LONGEST_ROOM} characters, without #.")))
            }
            Recipient::Room(_) => Ok(()),
            Recipient::Role(role) => {
                ds.roles().find(|one| one.id == *role).map(drop).ok_or_else(|| bad("The role to which this goes is not there any more."))
            }
            Recipient::Field(path) => {
                let (home, field) = ds.walk(table, path)?;
                match ds.shown_kind(home, field).map(|(_, kind)| kind) {
                    Some(Kind::Person | Kind::People | Kind::Email | Kind::Phone | Kind::CreatedBy) => Ok(()),
                    _ => Err(bad("A message goes to a person, e-mail or phone field.")),
                }
            }
        }
    }
}
