//! Messages as texts to a phone: short, and counted in the parts in which networks carry them.

/// Most parts of one text: what lies beyond is left out of it, and read behind its link.
pub const MOST_PARTS: usize = 3;

/// Characters that a network carries in seven bits each (GSM 03.38), and those of which each takes two of them.
const BASIC: &str =
    "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà";
const EXTENDED: &str = "^{}\\[~]|€";

/// Sevens of bits in a text of one part, and in each part of a longer one.
const BASIC_PARTS: (usize, usize) = (160, 153);
/// The same in units of UTF-16, once one character is none of the basic ones.
const WIDE_PARTS: (usize, usize) = (70, 67);

/// In how many parts a text is carried; none: it is empty.
pub fn parts(text: &str) -> usize {
    let sevens = |c: char| match c {
        _ if BASIC.contains(c) => Some(1_usize),
        _ if EXTENDED.contains(c) => Some(2),
        _ => None,
    };
    let (length, (one, each)) = match text.chars().map(sevens).sum::<Option<usize>>() {
        Some(length) => (length, BASIC_PARTS),
        None => (text.encode_utf16().count(), WIDE_PARTS),
    };
    if length <= one { length.min(1) } else { length.div_ceil(each) }
}

/// A message as a text: its heading, as much of what it says as fits in [`MOST_PARTS`], and its links, a line each, which are never cut.
pub fn short(heading: &str, body: &str, links: &[String]) -> String {
    let line = |text: &str| plain(&text.split_whitespace().collect::<Vec<_>>().join(" "));
    let (heading, body) = (line(heading), line(body));
    let said = match () {
        () if body.is_empty() || body == heading => heading,
        () if heading.is_empty() => body,
        // What begins with its own heading is not said twice.
        () if body.starts_with(&heading) => body,
        () if heading.ends_with(['.', '!', '?', ':']) => format!("{heading} {body}"),
        () => format!("{heading}. {body}"),
    };
    let tail: String = links.iter().map(|link| format!("\n{link}")).collect();
    let whole = format!("{said}{tail}");
    if parts(&whole) <= MOST_PARTS {
        return whole;
    }
    let words: Vec<&str> = said.split(' ').collect();
    let upto = |count: usize| format!("{}...{tail}", words[..count].join(" "));
    // One word more never makes it shorter.
    let fits = partition(words.len(), |count| parts(&upto(count)) <= MOST_PARTS);
    if fits > 0 {
        return upto(fits);
    }
    // A first word that is longer than a text, or links that leave no room at all.
    let letters: Vec<char> = words.first().map(|word| word.chars().collect()).unwrap_or_default();
    let cut = |count: usize| format!("{}...{tail}", letters[..count].iter().collect::<String>());
    cut(partition(letters.len(), |count| parts(&cut(count)) <= MOST_PARTS))
}

/// Signs that no phone needs as they are printed: they would make each part less than half as long.
fn plain(text: &str) -> String {
    let one = |c: char| match c {
        '‘' | '’' => "'".to_owned(),
        '“' | '”' => "\"".to_owned(),
        '–' | '—' => "-".to_owned(),
        '…' => "...".to_owned(),
        '\u{a0}' | '\u{202f}' => " ".to_owned(),
        other => other.to_string(),
    };
    text.chars().map(one).collect()
}

/// The largest count up to `most` that fits, where all below one that fits do.
fn partition(most: usize, fits: impl Fn(usize) -> bool) -> usize {
    let (mut least, mut beyond) = (0, most.saturating_add(1));
    while beyond - least > 1 {
        let middle = least.midpoint(beyond);
        if fits(middle) {
            least = middle;
        } else {
            beyond = middle;
        }
    }
    least
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn parts_are_counted_as_networks_carry_them() {
        let counted = |text: &str| parts(text);
        assert_eq!(counted(""), 0);
        assert_eq!(counted(&"a".repeat(160)), 1);
        assert_eq!(counted(&"a".repeat(161)), 2);
        assert_eq!(counted(&"a".repeat(306)), 2);
        assert_eq!(counted(&"a".repeat(307)), 3);
        // The sign of the euro takes two places.
        assert_eq!((counted(&"€".repeat(80)), counted(&"€".repeat(81))), (1, 2));
        // One sign that is none of the basic ones makes all wide; what lies beyond the first plane takes two units.
        assert_eq!((counted(&"ł".repeat(70)), counted(&"ł".repeat(71))), (1, 2));
        assert_eq!((counted(&"🌲".repeat(35)), counted(&"🌲".repeat(36))), (1, 2));
    }

    #[test]
    fn a_text_says_its_heading_once_and_keeps_its_links() {
        let link = ["Answer: http://t.example/reply/ab12".to_owned()];
        assert_eq!(
            short("Blocked: gate", "At  Harrow\nTarn – “look”.", &link),
            "Blocked: gate. At Harrow Tarn - \"look\".\nAnswer: http://t.example/reply/ab12"
        );
        assert_eq!(short("Gate", "Gate is broken", &[]), "Gate is broken");
        assert_eq!(short("", "Only this", &[]), "Only this");
        assert_eq!(short("Look!", "Now", &[]), "Look! Now");
        let long = short("Heading", &"word ".repeat(400), &link);
        assert!(long.ends_with("word...\nAnswer: http://t.example/reply/ab12") && parts(&long) == MOST_PARTS, "{long}");
    }

    proptest! {
        #[test]
        fn no_text_is_longer_than_its_parts_and_no_link_is_cut(
            heading in ".{0,80}", body in "(.|\\PC){0,900}", links in proptest::collection::vec("[a-z/:.0-9]{1,60}", 0..3)
        ) {
            let text = short(&heading, &body, &links);
            prop_assert!(parts(&text) <= MOST_PARTS, "{}", text);
            let tail: String = links.iter().map(|link| format!("\n{link}")).collect();
            prop_assert!(text.ends_with(&tail));
        }
    }
}
