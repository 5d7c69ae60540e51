"""Writing systems: which a text is in, which a face writes, and the letters and pairs a face is judged by.

Pairs that are common in names and words are written down from memory; they are asked of a face, not of a
language. Which writing systems join their letters is told by the Unicode Standard, chapters 9 to 13.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class WritingSystem:
    """A writing system as a face is judged by it.

    blocks: ranges of code points that are letters of it and of no other one here.
    needs: letters that a face must have to be said to write it.
    pairs: common pairs of its letters; where it has capitals, of its small letters.
    capital_pairs: each capital before a small letter that often follows it.
    """

    name: str
    blocks: tuple[tuple[int, int], ...]
    needs: str
    pairs: str
    capital_pairs: str = ""

    @property
    def letters(self) -> str:
        """The letters of its pairs, each once."""
        return "".join(sorted(set(self.pairs + self.capital_pairs) - {" "}))

    def has(self, char: str) -> bool:
        """Whether a character is one of its letters."""
        return any(low <= ord(char) <= high for low, high in self.blocks)


LATIN = WritingSystem(
    "Latin",
    ((0x41, 0x5A), (0x61, 0x7A), (0xC0, 0x24F), (0x1E00, 0x1E9F)),
    "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz",
    "th he in er an re nd on en at ou ed ha to or it is hi es ng st ar te se me le ve co de ri ro li "
    "io ic ne ea ra ce ll ta ma si om ur el la be il ol am us ss ee tt oo wi wo ov ow ry ly ey ck",
    "An Be Ca Da El Fr Ga Ha Is Ja Ka Le Ma No Ol Pa Qu Ro Sa Th Ul Va Wi Xa Yo Zo",
)

VIETNAMESE = WritingSystem(
    "Vietnamese",
    ((0x1EA0, 0x1EF9),),
    "ĂÂĐÊÔƠƯăâđêôơưẠạẢảẤấẦầẨẩẪẫẬậẮắẰằẲẳẴẵẶặẸẹẺẻẼẽẾếỀềỂểỄễỆệỈỉỊịỌọỎỏỐốỒồỔổỖỗỘộỚớỜờỞởỠỡỢợỤụỦủỨứỪừỬửỮữỰựỲỳỴỵỶỷỸỹ",
    "ng uy yễ ễn nh hị ịn ươ ườ ờn ản ảo ắc ạn ết ệt ữu ỳn ọc ôn ân hu hà àn hư ưn iê ến ấn ầu ậu ổi ới ỹ",
    "Ngu Trầ Lê Ph Ho Hu Và Đặ Bù Đỗ Hồ Dư Lý Ân Mỹ Yế",
)

CYRILLIC = WritingSystem(
    "Cyrillic",
    ((0x400, 0x52F),),
    "АБВГДЕЖЗИЙКЛМНОПРСТУФХЦЧШЩЪЫЬЭЮЯабвгдежзийклмнопрстуфхцчшщъыьэюяё",
    "ст но то на ен ов ни ра во ко ро го ал ан ер ор ре ес ет ос ль ли ва да де та ел ин не по пр ом ка "
    "ск ла ол ия ья жа ша ча юл ей ав лё ьк ма ми са",
    "Ан Бо Ва Га Да Ев Жа За Ив Ка Ла Ма На Ол Па Ра Се Та Ул Фе Ха Эл Юл Яр",
)

GREEK = WritingSystem(
    "Greek",
    ((0x370, 0x3FF), (0x1F00, 0x1FFF)),
    "ΑΒΓΔΕΖΗΘΙΚΛΜΝΞΟΠΡΣΤΥΦΧΨΩαβγδεζηθικλμνξοπρσςτυφχψωάέήίόύώ",
    "ου αι το τα ει ατ στ αν ον εν ρα τη ντ ια ος ης οι κα με πο ρο λα νο σε λο ερ αρ ας ίν ού άν έλ ία",
    "Αν Βα Γε Δη Ελ Ζω Ηλ Θε Ιω Κα Λε Μα Νι Ξε Ολ Πα Ρο Σο Τα Υα Φω Χρ Ψα Ωρ",
)

ARABIC = WritingSystem(
    "Arabic",
    ((0x600, 0x6FF), (0x750, 0x77F), (0x8A0, 0x8FF)),
    "ابتثجحخدذرزسشصضطظعغفقكلمنهويةىءأإؤئ",
    # Pairs whose first letter joins to the next one: after ا د ذ ر ز و no letter is joined.
    "مح حم بي لي سم كر ري عل فا طم هن نو خا لد عب يو سف من تا شي قص غا ضي صا جم ثم ظل لا ها يم نب قم",
)

HEBREW = WritingSystem(
    "Hebrew",
    ((0x590, 0x5FF),),
    "אבגדהוזחטיכךלמםנןסעפףצץקרשת",
    "של לו וא או רה נו יע מש דו אב רם שר בן כל תם חן גל טל צי פנ קר זה סל ים",
)

DEVANAGARI = WritingSystem(
    "Devanagari",
    ((0x900, 0x97F),),
    "अआइईउऊएऐओऔकखगघचछजझटठडढणतथदधनपफबभमयरलवशषसहािीुूेैोौ्ंः",
    "रा मन कल सप नह वर यश गत दव जय मीरा गीता शिव प्रे देव नील राम सीता कमल अमर बाल धन फल भाव ठाक ढोल णय",
)

THAI = WritingSystem(
    "Thai",
    ((0xE01, 0xE5B),),
    "กขคฆงจฉชซญฎฏฐฑฒณดตถทธนบปผฝพฟภมยรลวศษสหฬอฮะาิีึืุูเแโใไ",
    "กา นา มา รา ลา วน สม ชย พร ดี ทอ งค ริ ญา จน ปล ภู ศร อร หม บุ ตา ขว ณฐ",
)

ARMENIAN = WritingSystem(
    "Armenian",
    ((0x530, 0x58F),),
    "ԱԲԳԴԵԶԷԸԹԺԻԼԽԾԿՀՁՂՃՄՅՆՇՈՉՊՋՌՍՎՏՐՑՒՓՔՕՖաբգդեզէըթժիլխծկհձղճմյնշոչպջռսվտրցւփքօֆև",
    "ան ար եր ին որ ու են ամ իկ աս նա րի մա վա րտ նե լի սա հա կա գո դա թա շա ղի յա",
    "Ան Բա Գա Դա Ել Զա Թա Իս Լի Խա Կա Հա Մա Նա Շա Պե Ռո Սա Վա Տա Փա Քն Օլ",
)

GEORGIAN = WritingSystem(
    "Georgian",
    ((0x10A0, 0x10FF), (0x1C90, 0x1CBF)),
    "აბგდევზთიკლმნოპჟრსტუფქღყშჩცძწჭხჯჰ",
    "ნა ია ერ ელ ომ არ ან გი ორ თა მა ნი ინ ლა და ვა ზა კო სა შვ ილ ძე ჩი ცი ჯა ხა",
)

SYSTEMS = (LATIN, VIETNAMESE, CYRILLIC, GREEK, ARABIC, HEBREW, DEVANAGARI, THAI, ARMENIAN, GEORGIAN)
BY_NAME = {system.name: system for system in SYSTEMS}


def system_of(text: str) -> WritingSystem:
    """The writing system of most letters of a text; Latin where there are none of any. A few letters that
    only Vietnamese has make a Latin text Vietnamese."""
    counts = Counter(system.name for char in text for system in SYSTEMS if system.has(char))
    if counts[VIETNAMESE.name]:
        counts[VIETNAMESE.name] += counts.pop(LATIN.name, 0)
    return BY_NAME[counts.most_common(1)[0][0]] if counts else LATIN


def systems_of(letters: Collection[int]) -> tuple[WritingSystem, ...]:
    """The writing systems that a face with these code points writes."""
    return tuple(system for system in SYSTEMS if all(ord(char) in letters for char in system.needs))


def as_ranges(code_points: Iterable[int]) -> list[tuple[int, int]]:
    """Code points as ranges, first and last of each, in order."""
    found: list[tuple[int, int]] = []
    for point in sorted(code_points):
        if found and found[-1][1] == point - 1:
            found[-1] = (found[-1][0], point)
        else:
            found.append((point, point))
    return found
