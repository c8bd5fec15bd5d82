class Compared
{
    bool Check()
    {
        if (String.Compare(nameOfTheHarbour, defaultHarbour, StringComparison.OrdinalIgnoreCase, culture) == 0) { Depart(); }
        return MetadataReader.GetCustomAttributeHandle(sailing.GetCustomAttributes(), attributeNamespace, name).IsNil;
    }
}
