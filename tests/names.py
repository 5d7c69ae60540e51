"""Given names in ten writing systems. They are common ones, written down from memory; none is a person's."""

NAMES = {
    "Latin": "Maud Jago Zoë Łucja Øystein Çelik Elowen Piers Fenwick Rosalind",
    "Vietnamese": "Hương Tuấn Ngọc Thảo Đức Hạnh Quỳnh Việt Nguyễn Mỹ",
    "Cyrillic": "Анна Юлия Мирослав Жанна Оксана Дмитро Ганна Щепан Любовь Йосип",
    "Greek": "Ελένη Γιώργος Μαρία Σοφία Ξένια Δημήτρης Άννα Χρήστος Ψυχή Φωτεινή",
    "Arabic": "مريم محمد فاطمة يوسف زينب خديجة حسن ليلى سلمى إبراهيم",
    "Hebrew": "שרה דוד רחל יעקב חנה משה לאה אסתר נועם תמר",
    "Devanagari": "मीरा राम सीता अर्जुन प्रिया कृष्ण लक्ष्मी दीपा विजय आनन्द",
    "Thai": "มาลี สมชาย นารี พรทิพย์ กานดา วิชัย สุดา ปรีชา อรุณ จันทร์",
    "Armenian": "Անի Արամ Նարե Հայկ Մարիամ Վարդան Լիլիթ Գևորգ Շուշան Տիգրան",
    "Georgian": "ნინო გიორგი თამარ დავით ელენე ლუკა მარიამ ნიკა სოფიო ვახტანგ",
}


def words(system: str, count: int) -> list[str]:
    """So many words: the names, then pairs of them written as one, a small letter never before a capital."""
    names = NAMES[system].split()
    pairs = [one + other.lower() for one in names for other in names if one != other]
    return [*names, *pairs][:count]
